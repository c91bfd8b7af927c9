import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useOutletContext } from 'react-router';
import { api, answered, type Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import styles from './height.module.css';
import { recordingsQuery, type Recording } from './queries';

const TakeInTrace = lazy(async () => ({ default: (await import('./TakeInTrace')).TakeInTrace }));

/** The recordings of a table: of its line, and taken in from files. */
export function RecordingsPage() {
  const table = useOutletContext<Table>();
  const found = useQuery(recordingsQuery(table.id));
  const [taking, setTaking] = useState(false);
  const [picked, setPicked] = useState<number[]>([]);
  const navigate = useNavigate();
  const pick = (id: number) =>
    setPicked((before) =>
      before.includes(id) ? before.filter((p) => p !== id) : [...before, id].slice(-2),
    );
  const shown = found.data?.filter((r) => !r.struck_out) ?? [];
  return (
    <main className={styles.height}>
      <header className={styles.head}>
        <h1>Recordings of the {table.name}</h1>
        <div className={styles.acts}>
          <Button variant="outlined" onClick={() => setTaking(true)}>
            Take in a file
          </Button>
          <Button
            variant="contained"
            disabled={picked.length !== 2}
            onClick={() => void navigate(`/height/recordings/${picked[0]}?beside=${picked[1]}`)}
          >
            Two side by side
          </Button>
        </div>
      </header>
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {found.data && shown.length === 0 && (
        <p className={styles.wait}>
          Nothing is recorded yet. Cut with the <Link to="/height">live cut</Link> listening, or take in
          a CSV file with time and arc voltage; Z, feed and set-point tell more.
        </p>
      )}
      <ul className={styles.recordings}>
        {shown.map((r) => (
          <Row key={r.id} recording={r} picked={picked.includes(r.id)} onPick={() => pick(r.id)} />
        ))}
      </ul>
      {taking && (
        <Suspense fallback={null}>
          <TakeInTrace tableId={table.id} onClose={() => setTaking(false)} />
        </Suspense>
      )}
    </main>
  );
}

function Row(p: { recording: Recording; picked: boolean; onPick: () => void }) {
  const r = p.recording;
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: (out: boolean) =>
      answered(
        api.PUT('/api/traces/{trace_id}/struck', {
          params: { path: { trace_id: r.id }, query: { out } },
        }),
      ),
    onSuccess: async (_, out) => {
      await queries.invalidateQueries({ queryKey: ['recordings'] });
      if (out) say({ text: 'Struck out.', undo: () => strike.mutate(false) });
    },
  });
  const at = new Date(r.begun_at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
  return (
    <li>
      <label>
        <input type="checkbox" checked={p.picked} onChange={p.onPick} />
        <span className="hidden-text">Choose {r.name}</span>
      </label>
      <Link to={`/height/recordings/${r.id}`}>
        <b>{r.cut_number ? `Cut ${r.cut_number}` : r.name}</b> {at}
      </Link>
      <span className="number">
        {r.samples.toLocaleString()} samples
        {r.source === 'line' &&
          ` · ${r.starts} ${r.starts === 1 ? 'start' : 'starts'} · ${r.arc_on_s.toFixed(1)} s of arc`}
      </span>
      <span className={styles.soft}>
        {r.source === 'file' ? 'from a file' : !r.ended ? 'recording now' : r.interrupted}
        {r.off_plate > 0 && ' · ended off the plate'}
      </span>
      <Button variant="text" disabled={strike.isPending || !r.ended} onClick={() => strike.mutate(true)}>
        Strike out
      </Button>
    </li>
  );
}
