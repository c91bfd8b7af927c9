import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { answered, api, type Schema } from '../kit/client';
import { Doubt } from '../kit/Doubt';
import { Notice } from '../kit/Notice';
import styles from './height.module.css';

type Headings = Schema['TraceHeadings'];
type Match = Headings['suggested'];

const NAMES: Record<string, string> = {
  time_s: 'Time',
  arc_voltage_v: 'Arc voltage',
  z_mm: 'Z',
  feed_mm_min: 'Feed',
  set_point_v: 'Set-point',
  control_on: 'Control on (0 or 1)',
};

const asCsv = {
  headers: { 'content-type': 'text/csv' },
  bodySerializer: (body: unknown) => body as Blob,
};

/** Take in a recording: choose the file, say which column is what and in which unit, and it is read. */
export function TakeInTrace({ tableId, onClose }: { tableId: number; onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const [headings, setHeadings] = useState<Headings | null>(null);
  const [match, setMatch] = useState<Match>({});
  const [every, setEvery] = useState('');
  const [insisted, setInsisted] = useState<readonly string[]>([]);
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const look = useMutation({
    mutationFn: (chosen: File) =>
      answered(api.POST('/api/traces/headings', { body: chosen as never, ...asCsv })),
    onSuccess: (found) => {
      setHeadings(found);
      setMatch(found.suggested);
      setInsisted([]);
    },
  });
  const take = useMutation({
    mutationFn: ({ chosen, right }: { chosen: File; right: readonly string[] }) =>
      answered(
        api.POST('/api/tables/{table_id}/traces', {
          params: {
            path: { table_id: tableId },
            query: {
              name: chosen.name.slice(0, 120),
              match: JSON.stringify(match),
              every_s: match['time_s'] ? null : secondsOf(every),
              insisted: [...right],
            },
          },
          body: chosen as never,
          ...asCsv,
        }),
      ),
    onSuccess: async (taken) => {
      await queries.invalidateQueries({ queryKey: ['recordings'] });
      await navigate(`/height/recordings/${taken.id}`);
    },
  });
  const wrong = look.error ?? take.error;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="take-title">
      <DialogTitle id="take-title">Take in a recording</DialogTitle>
      <DialogContent>
        <Button variant="outlined" onClick={() => input.current?.click()}>
          {file ? file.name : 'Choose a CSV file'}
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          accept=".csv,.txt,.tsv,text/csv"
          aria-label="CSV file of a recording"
          onChange={(e) => {
            const chosen = e.target.files?.[0];
            if (!chosen) return;
            setFile(chosen);
            setHeadings(null);
            look.mutate(chosen);
          }}
        />
        {headings?.said.map((said) => (
          <Notice key={said} kind="note">
            {said}
          </Notice>
        ))}
        {headings && (
          <Columns
            headings={headings}
            match={match}
            every={every}
            setEvery={setEvery}
            setMatch={(to) => {
              setMatch(to);
              setInsisted([]);
            }}
          />
        )}
        {wrong && file && (
          <Doubt
            error={wrong}
            onInsist={(field) => {
              const right = [...insisted, field];
              setInsisted(right);
              take.mutate({ chosen: file, right });
            }}
          />
        )}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button
          variant="contained"
          disabled={!file || !headings || take.isPending}
          onClick={() => file && take.mutate({ chosen: file, right: insisted })}
        >
          {take.isPending ? 'Reading it' : 'Take it in'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Seconds from row to row as typed, or null: the server says what is missing. */
function secondsOf(typed: string): number | null {
  const found = Number(typed.trim().replace(',', '.'));
  return typed.trim() && Number.isFinite(found) ? found : null;
}

interface ColumnsProps {
  headings: Headings;
  match: Match;
  setMatch: (to: Match) => void;
  every: string;
  setEvery: (to: string) => void;
}

function Columns(p: ColumnsProps) {
  const { headings, match, setMatch, every, setEvery } = p;
  const set = (column: string, some: Partial<Match[string]> | null) => {
    const { [column]: before, ...others } = match;
    if (some === null) setMatch(others);
    else setMatch({ ...others, [column]: { heading: '', unit: '', times: 1, ...before, ...some } });
  };
  return (
    <table className={styles.matches}>
      <thead>
        <tr>
          <th>What</th>
          <th>Column</th>
          <th>In</th>
          <th>First rows</th>
        </tr>
      </thead>
      <tbody>
        {Object.entries(NAMES).map(([column, name]) => {
          const m = match[column];
          const at = m ? headings.headings.indexOf(m.heading) : -1;
          const units = headings.units[column] ?? [];
          return (
            <tr key={column}>
              <th scope="row">{name}</th>
              <td>
                <select
                  aria-label={`${name}: column`}
                  value={m?.heading ?? ''}
                  onChange={(e) => set(column, e.target.value ? { heading: e.target.value } : null)}
                >
                  <option value="">not in the file</option>
                  {headings.headings.map((h) => (
                    <option key={h}>{h}</option>
                  ))}
                </select>
              </td>
              <td>
                {m && units.length > 1 && (
                  <select
                    aria-label={`${name}: unit`}
                    value={m.unit}
                    onChange={(e) => set(column, { unit: e.target.value })}
                  >
                    <option value="">{units[0]}</option>
                    {units.slice(1).map((u) => (
                      <option key={u}>{u}</option>
                    ))}
                  </select>
                )}
                {!m && column === 'time_s' && (
                  <label className={styles.times}>
                    a row every{' '}
                    <input
                      aria-label="Time from row to row, in seconds"
                      value={every}
                      inputMode="decimal"
                      onChange={(e) => setEvery(e.target.value)}
                    />{' '}
                    s
                  </label>
                )}
                {m && column === 'arc_voltage_v' && (
                  <label className={styles.times}>
                    ×{' '}
                    <input
                      aria-label="Arc voltage: times"
                      defaultValue={m.times}
                      inputMode="decimal"
                      onBlur={(e) =>
                        set(column, { times: Number(e.target.value.replace(',', '.')) || 1 })
                      }
                    />
                  </label>
                )}
              </td>
              <td className="number">
                {at < 0
                  ? ''
                  : headings.rows
                      .slice(0, 3)
                      .map((r) => r[at])
                      .join(' · ')}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
