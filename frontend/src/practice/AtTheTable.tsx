import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, ofShop } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { Numbered } from './Numbered';
import styles from './practice.module.css';
import { counted, goTo, practiceTablesQuery, type Run } from './queries';

const KINDS = [
  {
    watched: false,
    title: 'Cut it square',
    says: 'A simulated table with something hidden, on the Bench as it always is. Cut, put right what is wrong, and say how it ends.',
  },
  {
    watched: true,
    title: 'Watch the arc',
    says: 'A simulated table runs, and shows its volts and its height. Run it with the height held and under control, read the recordings, and say what it is.',
  },
] as const;

/** Exercises at a simulated table: each is begun on its own Bench, or where its arc is watched. */
export function AtTheTable({ watched }: { watched: boolean }) {
  const found = useQuery(practiceTablesQuery);
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: (code: string) =>
      answered(ofShop.POST('/api/practice/tables', { body: { case: code } })),
    onSuccess: async (run) => {
      await queries.invalidateQueries({ queryKey: practiceTablesQuery.queryKey });
      goTo(run);
    },
  });
  if (found.isError) return <Notice kind="refusal">{refusalText(found.error)}</Notice>;
  if (!found.data) return null;
  const kind = KINDS[watched ? 1 : 0];
  const exercises = found.data.exercises.filter((e) => e.watched === watched);
  const going_on = found.data.going_on.filter((run) => run.watched === watched);
  return (
    <section aria-label={kind.title} className={styles.group}>
      <h2>
        {kind.title}{' '}
        <small>
          {exercises.filter((e) => e.passed).length} of {exercises.length} passed
        </small>
      </h2>
      <p>{kind.says}</p>
      {going_on.slice(0, 3).map((run) => (
        <GoOn key={run.id} run={run} />
      ))}
      {begin.isError && <Notice kind="refusal">{refusalText(begin.error)}</Notice>}
      <ol className={styles.exercises}>
        {exercises.map((e) => (
          <li key={e.code}>
            <button type="button" disabled={begin.isPending} onClick={() => begin.mutate(e.code)}>
              <span>
                <strong>{e.title}</strong>
                <small>{e.task}</small>
              </span>
              <em data-passed={e.passed}>{e.passed ? '✓ passed' : e.taken > 0 ? 'not yet' : ''}</em>
            </button>
          </li>
        ))}
      </ol>
      {!watched && (
        <Numbered what="table" busy={begin.isPending} onTake={(n) => begin.mutate(String(n))} />
      )}
    </section>
  );
}

function GoOn({ run }: { run: Run }) {
  return (
    <button type="button" className={styles.goOn} onClick={() => goTo(run)}>
      <strong>Go on: {run.title}</strong>
      <small>
        {run.cuts} of {counted(run, run.most_cuts)}, begun {new Date(run.begun_at).toLocaleDateString()}
      </small>
    </button>
  );
}
