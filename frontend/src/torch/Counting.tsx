import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Table } from '../kit/client';
import { FileButton } from '../kit/FileButton';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { useSay } from '../kit/undo';
import styles from './parts.module.css';
import type { Parts } from './queries';

/** Where the starts come from, and putting right what nobody counted. */
export function Counting({ table, parts }: { table: Table; parts: Parts }) {
  const queries = useQueryClient();
  const say = useSay();
  const [times, setTimes] = useState<number | null>(1);
  const path = { table_id: table.id };
  const collide = useMutation({
    mutationFn: () => answered(api.POST('/api/tables/{table_id}/collisions', { params: { path } })),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <section className={styles.counting} aria-labelledby="counting">
      <h2 id="counting">What the electrode’s starts are from</h2>
      <ul>
        {parts.counted_from.map((c) => (
          <li key={c.source}>
            {c.word} <b className="number">{c.starts}</b>
          </li>
        ))}
      </ul>
      <details>
        <summary>Put the count right</summary>
        <div className={styles.fields}>
          <SourceCounter tableId={table.id} parts={parts} />
          <ARun tableId={table.id} />
          <NumberField least={0} label="A piece file was run, times" value={times} onType={setTimes} />
          <FileButton<Parts>
            label="Count a piece.json"
            address={times ? at(`/api/tables/${table.id}/counts/piece?times=${times}`) : null}
            onTaken={async () => {
              say({ text: 'Its pierces and its arc time are counted.' });
              await queries.invalidateQueries();
            }}
          />
        </div>
      </details>
      <Button
        variant="outlined"
        color="error"
        disabled={collide.isPending}
        onClick={() => collide.mutate()}
      >
        The torch collided
      </Button>
      {collide.isError && <Notice kind="refusal">{refusalText(collide.error)}</Notice>}
    </section>
  );
}

/** The counter of the source, as it is read: what it shows is what counts. */
function SourceCounter({ tableId, parts }: { tableId: number; parts: Parts }) {
  const queries = useQueryClient();
  const say = useSay();
  const [shown, setShown] = useState<number | null>(null);
  const [setBack, setSetBack] = useState(false);
  const read = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/counter', {
          params: { path: { table_id: tableId } },
          body: { starts: shown ?? 0, arc_on_s: null, set_back: setBack },
        }),
      ),
    onSuccess: (row) => {
      const missed = row.missed_starts;
      say({
        text:
          missed === 0
            ? 'The source’s counter is noted: the sum agrees.'
            : `${Math.abs(missed)} starts ${missed > 0 ? 'were missed, and are counted now' : 'too many were counted, and are taken off'}.`,
      });
      setShown(null);
      setSetBack(false);
      return queries.invalidateQueries();
    },
  });
  return (
    <>
      <NumberField
        least={0}
        label="The source’s own counter shows"
        value={shown}
        after="starts"
        onType={setShown}
        help={
          parts.counter
            ? `${parts.counter.starts} when it was read last.`
            : 'The first reading is where it is counted from.'
        }
      />
      {parts.counter && (
        <label className={styles.tick}>
          <input type="checkbox" checked={setBack} onChange={(e) => setSetBack(e.target.checked)} />
          It was set back since
        </label>
      )}
      <Button
        variant="outlined"
        disabled={shown === null || read.isPending}
        onClick={() => read.mutate()}
      >
        Note the counter
      </Button>
      {read.isError && <Notice kind="refusal">{refusalText(read.error)}</Notice>}
    </>
  );
}

/** A run that no program and no trial counted. */
function ARun({ tableId }: { tableId: number }) {
  const queries = useQueryClient();
  const say = useSay();
  const [run, setRun] = useState<number | null>(null);
  const [off, setOff] = useState<number | null>(null);
  const count = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/counts', {
          params: { path: { table_id: tableId } },
          body: { starts: run ?? 0, arc_on_s: 0, off_plate: off ?? 0, early_losses: 0, note: '' },
        }),
      ),
    onSuccess: () => {
      say({ text: `${run ?? 0} starts counted.` });
      setRun(null);
      setOff(null);
      return queries.invalidateQueries();
    },
  });
  return (
    <>
      <NumberField
        least={0}
        label="A run that nothing counted"
        value={run}
        after="starts"
        onType={setRun}
      />
      <NumberField least={0} label="of which ended off the plate" value={off} onType={setOff} />
      <Button variant="outlined" disabled={!run || count.isPending} onClick={() => count.mutate()}>
        Count it
      </Button>
      {count.isError && <Notice kind="refusal">{refusalText(count.error)}</Notice>}
    </>
  );
}
