import Button from '@mui/material/Button';
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Match } from '../kit/Match';
import { Notice, refusalText } from '../kit/Notice';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { DROSS_EFFORT } from '../kit/words.gen';
import styles from './measuring.module.css';

const gradingsQuery = queryOptions({
  queryKey: ['gradings'],
  queryFn: () => answered(api.GET('/api/gradings')),
});

const PIECES = [0, 1, 2, 3, 4] as const;
type Graded = (number | null)[];
const NOT_YET: Graded = PIECES.map(() => null);

/** The same five pieces graded by two people, neither seeing what the other said: how alike they grade. */
export function GradingCheck() {
  const found = useQuery(gradingsQuery);
  const [open, setOpen] = useState(false);
  return (
    <div className={styles.grading}>
      <header>
        <h3>Do we grade dross alike?</h3>
        <p>{found.data?.says}</p>
        <Button variant="outlined" onClick={() => setOpen(!open)}>
          {open ? 'Later' : 'Grade five pieces'}
        </Button>
      </header>
      {open && <TwoGraders onDone={() => setOpen(false)} />}
      {(found.data?.checks.length ?? 0) > 0 && (
        <ul>
          {found.data?.checks.map((c) => (
            <OneCheck key={c.id} check={c} />
          ))}
        </ul>
      )}
    </div>
  );
}

function OneCheck({ check }: { check: Schema['GradingAnswer'] }) {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: (out: boolean) =>
      answered(
        api.PUT('/api/gradings/{grading_id}/struck', {
          params: { path: { grading_id: check.id }, query: { out } },
        }),
      ),
    onSuccess: async (_, out) => {
      await queries.invalidateQueries();
      if (out) say({ text: 'The check is left out.', undo: () => strike.mutate(false) });
    },
  });
  return (
    <li>
      <span>
        {check.one} and {check.other},{' '}
        {new Date(check.graded_at).toLocaleDateString([], { dateStyle: 'medium' })}
      </span>
      <span>{check.grades.map(([a, b]) => `${a}/${b}`).join('  ')}</span>
      <Button variant="text" onClick={() => strike.mutate(true)}>
        Leave it out
      </Button>
    </li>
  );
}

/** One person grades all five, then the other, without seeing what was said before. */
function TwoGraders({ onDone }: { onDone: () => void }) {
  const [names, setNames] = useState(['', '']);
  const [grades, setGrades] = useState<[Graded, Graded]>([NOT_YET, NOT_YET]);
  const [turn, setTurn] = useState<0 | 1>(0);
  const queries = useQueryClient();
  const sent = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/gradings', {
          body: {
            one: names[0]?.trim() || 'first',
            other: names[1]?.trim() || 'second',
            grades: PIECES.map((i) => [grades[0][i] ?? 0, grades[1][i] ?? 0] as [number, number]),
          },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries();
      onDone();
    },
  });
  const now = grades[turn];
  const done = now.every((g) => g !== null);
  const grade = (piece: number, to: number) =>
    setGrades((was) => {
      const next: [Graded, Graded] = [[...was[0]], [...was[1]]];
      next[turn][piece] = to;
      return next;
    });
  return (
    <div className={styles.graders}>
      <TextField
        label={
          turn === 0 ? 'Who grades first?' : 'Who grades now? The same person on another day will do.'
        }
        value={names[turn] ?? ''}
        most={80}
        onType={(name) => setNames(names.map((n, i) => (i === turn ? name : n)))}
      />
      <ol>
        {PIECES.map((piece) => (
          <li key={piece}>
            <strong>Piece {piece + 1}</strong>
            <div role="group" aria-label={`Piece ${piece + 1}`}>
              {DROSS_EFFORT.map((effort, g) => (
                <button
                  key={effort}
                  type="button"
                  aria-pressed={now[piece] === g}
                  onClick={() => grade(piece, g)}
                >
                  <Match picture="grade" value={String(g)} />
                  {effort}
                </button>
              ))}
            </div>
          </li>
        ))}
      </ol>
      {turn === 0 ? (
        <Button variant="contained" disabled={!done} onClick={() => setTurn(1)}>
          Hand it over: the other grades now
        </Button>
      ) : (
        <Button variant="contained" disabled={!done || sent.isPending} onClick={() => sent.mutate()}>
          Keep the check
        </Button>
      )}
      {sent.isError && <Notice kind="refusal">{refusalText(sent.error)}</Notice>}
    </div>
  );
}
