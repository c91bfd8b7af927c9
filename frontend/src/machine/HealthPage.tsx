import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useTable } from '../kit/queries';
import { TextField } from '../kit/TextField';
import { useKeep, useStrike } from './checks';
import styles from './health.module.css';

type Line = Schema['HealthLine'];

const DOORS: Record<Line['aspect'], string> = {
  square: '/machine/square',
  scale: '/machine/square',
  slack: '/machine/motion?what=slack',
  acceleration: '/machine/motion?what=acceleration',
  lost_steps: '/machine/motion?what=mark',
  height_sensor: '/machine/motion?what=touch',
  axes: '/machine',
  signal_path: '/height/signal-path',
  air: '/machine',
  alignment: '/torch/jet',
};

const SIGNS = {
  good: { sign: '●', word: 'good' },
  look: { sign: '◐', word: 'look' },
  wrong: { sign: '■', word: 'wrong' },
  due: { sign: '▲', word: 'due' },
  not_known: { sign: '○', word: 'not known' },
} as const;

/** A table's health: what is known, since when, how sure, and what is due. */
export function HealthPage() {
  const table = useTable();
  const health = useQuery({
    queryKey: ['health', table?.id],
    queryFn: () =>
      answered(
        api.GET('/api/tables/{table_id}/health', { params: { path: { table_id: table?.id ?? 0 } } }),
      ),
    enabled: table !== null,
  });
  if (health.isError) return <Notice kind="refusal">{refusalText(health.error)}</Notice>;
  if (!table || !health.data) return null;
  const asks = health.data.lines.filter((l) => l.standing === 'wrong' || l.standing === 'due');
  return (
    <main className={styles.health}>
      <header>
        <div>
          <h1>Health of the {health.data.table}</h1>
          <p>
            {asks.length === 0
              ? 'Nothing is wrong or due by what is known.'
              : `${asks.length} of ${health.data.lines.length} ask for something.`}
          </p>
        </div>
        <a href={at(`/api/tables/${table.id}/health.pdf`)} target="_blank" rel="noreferrer">
          On paper, for whoever mends it
        </a>
      </header>
      <ol className={styles.lines}>
        {health.data.lines.map((l) => (
          <One key={l.aspect} line={l} />
        ))}
      </ol>
      <Upsets tableId={table.id} upsets={health.data.upsets} />
    </main>
  );
}

function One({ line: l }: { line: Line }) {
  const { sign, word } = SIGNS[l.standing];
  const when = l.found_at ? new Date(l.found_at).toLocaleDateString() : '';
  return (
    <li data-standing={l.standing}>
      <span className={styles.sign} aria-hidden="true">
        {sign}
      </span>
      <div>
        <strong>{l.label}</strong> <em>{word}</em>
        {l.figure && <p>{l.figure}</p>}
        {l.due_because && <p className={styles.because}>{l.due_because}</p>}
        {(l.standing === 'due' || l.standing === 'not_known') && <p>{l.tells}</p>}
        {when && (
          <small>
            {when}
            {l.found_by && `, ${l.found_by}`}
          </small>
        )}
      </div>
      <Link to={DOORS[l.aspect]}>{l.standing === 'good' ? 'Look' : 'Find out'}</Link>
    </li>
  );
}

const UPSETS = [
  { kind: 'crash', label: 'There was a crash' },
  { kind: 'moved', label: 'The table was moved' },
  { kind: 'changed_drive', label: 'A drive was changed' },
] as const;

/** What makes the right figures due at once. */
function Upsets({ tableId, upsets }: { tableId: number; upsets: readonly Schema['UpsetAnswer'][] }) {
  const keep = useKeep(tableId);
  const strike = useStrike();
  const [note, setNote] = useState('');
  return (
    <section aria-label="What upset it" className={styles.upsets}>
      <h2>What upset it</h2>
      <p>Say it when it happens: what it may have shifted is due from then on.</p>
      <TextField label="What happened" value={note} most={400} onType={setNote} />
      <div className={styles.acts}>
        {UPSETS.map((u) => (
          <Button
            key={u.kind}
            variant="outlined"
            disabled={keep.isPending}
            onClick={() =>
              keep.mutate({ check: { kind: u.kind }, note }, { onSuccess: () => setNote('') })
            }
          >
            {u.label}
          </Button>
        ))}
      </div>
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
      <ul>
        {upsets.map((u) => (
          <li key={u.id}>
            <span>
              <strong>{new Date(u.at).toLocaleDateString()}</strong> {u.title}
              {u.note && `: ${u.note}`}
              {u.by && ` (${u.by})`}
            </span>
            <Button onClick={() => strike.mutate({ id: u.id, out: true })}>Strike out</Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
