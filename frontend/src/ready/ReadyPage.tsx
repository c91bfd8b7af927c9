import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { Choices } from '../kit/Choices';
import { NoTable } from '../kit/NoTable';
import { Notice, refusalText } from '../kit/Notice';
import { useTable } from '../kit/queries';
import { useSay } from '../kit/undo';
import { ChangeList } from './ChangeList';
import { OneItem } from './OneItem';
import { readyQuery, useFinish, type Ready } from './queries';
import styles from './ready.module.css';
import { WholeList } from './WholeList';

const WAYS = [
  { value: 'one', label: 'One at a time' },
  { value: 'list', label: 'The whole list' },
] as const;

/** Everything that must be true before the first cut means anything: only what applies, only when due. */
export function ReadyPage() {
  const table = useTable();
  const ready = useQuery({ ...readyQuery(table?.id ?? 0), enabled: table !== null });
  const [way, setWay] = useState<'one' | 'list'>('one');
  const [passed, setPassed] = useState<readonly string[]>([]);
  const [changing, setChanging] = useState(false);
  if (table === null) return <NoTable />;
  if (ready.isError && !ready.data) return <Notice kind="refusal">{refusalText(ready.error)}</Notice>;
  if (!ready.data) return null;
  const items = ready.data.items;
  const open = items.filter((i) => i.due && !passed.includes(i.code));
  const now = open[0];
  return (
    <main className={styles.ready}>
      <header className={styles.head}>
        <h1>Ready to cut on the {table.name}?</h1>
        <Choices label="Show" value={way} choices={WAYS} onChoose={setWay} />
        <Button variant="outlined" onClick={() => setChanging(true)}>
          Change the list
        </Button>
      </header>
      <Ticks ready={ready.data} now={way === 'one' ? now?.code : undefined} passed={passed} />
      {way === 'list' ? (
        <WholeList tableId={table.id} items={items} />
      ) : now ? (
        <OneItem
          key={now.code}
          tableId={table.id}
          item={now}
          left={open.length}
          onSkip={() => setPassed((before) => [...before, now.code])}
        />
      ) : (
        <p className={styles.none}>
          {ready.data.due === 0
            ? 'Nothing is due: all that applies was found right in its time.'
            : `${ready.data.due} skipped. They are kept as skipped, with the trial.`}
        </p>
      )}
      {(way === 'list' || !now) && <Done tableId={table.id} ready={ready.data} />}
      {changing && <ChangeList ready={ready.data} onClose={() => setChanging(false)} />}
    </main>
  );
}

/** One mark an item, in order of work: filled when right, hollow while due. */
function Ticks({
  ready,
  now,
  passed,
}: {
  ready: Ready;
  now: string | undefined;
  passed: readonly string[];
}) {
  const right = ready.items.filter((i) => !i.due).length;
  return (
    <div className={styles.ticks}>
      <span aria-hidden="true">
        {ready.items.map((i) => (
          <i
            key={i.code}
            data-state={
              i.answer === 'not_right'
                ? 'wrong'
                : !i.due
                  ? 'right'
                  : passed.includes(i.code)
                    ? 'skipped'
                    : 'due'
            }
            data-now={i.code === now}
          />
        ))}
      </span>
      <strong>
        {right} of {ready.items.length} right
      </strong>
    </div>
  );
}

function Done({ tableId, ready }: { tableId: number; ready: Ready }) {
  const finish = useFinish(tableId);
  const navigate = useNavigate();
  const say = useSay();
  const cautions = ready.items.filter((i) => i.due && i.caution).length;
  if (ready.begun_at === null)
    return (
      <div className={styles.done}>
        <Button variant="contained" onClick={() => void navigate('/bench')}>
          To the Bench
        </Button>
      </div>
    );
  return (
    <div className={styles.done}>
      {finish.isError && <Notice kind="refusal">{refusalText(finish.error)}</Notice>}
      {cautions > 0 && (
        <p className={styles.soft}>
          {cautions} {cautions === 1 ? 'caution is' : 'cautions are'} still to be acknowledged.
        </p>
      )}
      <Button
        variant="contained"
        disabled={cautions > 0 || ready.not_right > 0 || finish.isPending}
        onClick={() =>
          finish.mutate(undefined, {
            onSuccess: (run) => {
              say({ text: `Kept with the trial: ${run.right} right, ${run.skipped.length} skipped.` });
              void navigate('/bench');
            },
          })
        }
      >
        {ready.due > 0 ? `Done, ${ready.due} skipped` : 'Done: to the Bench'}
      </Button>
      <p className={styles.soft}>
        This is the usual run-through, not a promise. The equipment’s manual and local rules come first.
      </p>
    </div>
  );
}
