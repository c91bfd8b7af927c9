import { queryOptions, useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { answered, ofShop } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { AtTheTable } from './AtTheTable';
import { Numbered } from './Numbered';
import styles from './practice.module.css';
import { practiceTablesQuery } from './queries';

const MOST_SHOWN = 40;

/** Exercises at a table and in finding faults, and the sheet of whoever is signed on. */
export function PracticePage() {
  return (
    <main className={styles.practice}>
      <header>
        <h1>Practice</h1>
        <p>Nothing here is of a real table, and nothing of it comes into the shop’s records.</p>
      </header>
      <div className={styles.columns}>
        <AtTheTable watched={false} />
        <div>
          <AtTheTable watched />
          <FindTheFault />
        </div>
      </div>
      <Sheet />
    </main>
  );
}

const faultsQuery = queryOptions({
  queryKey: ['practice'],
  queryFn: () => answered(ofShop.GET('/api/practice')),
});

function FindTheFault() {
  const found = useQuery(faultsQuery);
  const go = useNavigate();
  const take = (one: string | number) => void go(`/practice/${one}`);
  if (found.isError) return <Notice kind="refusal">{refusalText(found.error)}</Notice>;
  if (!found.data) return null;
  const { exercises } = found.data;
  return (
    <section aria-label="Find the fault" className={styles.group}>
      <h2>
        Find the fault{' '}
        <small>
          {exercises.filter((e) => e.passed).length} of {exercises.length} passed
        </small>
      </h2>
      <p>
        A fault is hidden. Ask what would tell, name it, and say what you would do first. By number,
        answers may mislead, as they do in the shop.
      </p>
      <ol className={styles.exercises}>
        {exercises.map((e) => (
          <li key={e.code}>
            <button type="button" onClick={() => take(e.code)}>
              <strong>{e.title}</strong>
              <em data-passed={e.passed}>{e.passed ? '✓ passed' : e.taken > 0 ? 'not yet' : ''}</em>
            </button>
          </li>
        ))}
      </ol>
      <Numbered what="case" onTake={take} />
    </section>
  );
}

interface Taken {
  key: string;
  title: string;
  passed: boolean;
  cost: string;
  at: Date;
  to: string | null;
}

/** What somebody took, newest first: the sheet of a new hire. */
function Sheet() {
  const faults = useQuery(faultsQuery);
  const tables = useQuery(practiceTablesQuery);
  if (!faults.data || !tables.data) return null;
  const taken: Taken[] = [
    ...faults.data.taken.map((t, i) => ({
      key: `fault ${i}`,
      title: t.title,
      passed: t.passed,
      cost: `${t.spent.toFixed(1)} looks`,
      at: new Date(t.taken_at),
      to: null,
    })),
    ...tables.data.ended.map((r) => ({
      key: `table ${r.id}`,
      title: r.title,
      passed: r.passed,
      cost: `${r.cuts} ${r.cuts === 1 ? 'cut' : 'cuts'}`,
      at: new Date(r.begun_at),
      to: `/practice/tables/${r.id}`,
    })),
  ].sort((a, b) => b.at.getTime() - a.at.getTime());
  if (taken.length === 0) return null;
  const person = faults.data.person;
  return (
    <section aria-label="Taken" className={styles.taken}>
      <h2>Taken{person && ` by ${person}`}</h2>
      <a
        href={`/api/practice/sheet.pdf?person=${encodeURIComponent(person)}`}
        target="_blank"
        rel="noreferrer"
      >
        The sheet on paper
      </a>
      <ul>
        {taken.slice(0, MOST_SHOWN).map((t) => (
          <li key={t.key}>
            {t.to ? <Link to={t.to}>{t.title}</Link> : <span>{t.title}</span>}
            <em data-passed={t.passed}>{t.passed ? '✓ passed' : 'not passed'}</em>
            <small>
              {t.at.toLocaleDateString()}, {t.cost}
            </small>
          </li>
        ))}
      </ul>
    </section>
  );
}
