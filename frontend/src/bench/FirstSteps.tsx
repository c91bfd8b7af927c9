import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { pagesQuery, type SheetLine } from '../book/queries';
import { tablesQuery, torchSetsQuery } from '../kit/queries';
import styles from './firstSteps.module.css';

const MOST_NAMED = 3;

/** Names, as many as can be read at a glance. */
const few = (names: string[]): string =>
  names.length > MOST_NAMED
    ? `${names.slice(0, MOST_NAMED).join(', ')} and ${names.length - MOST_NAMED} more`
    : names.join(', ');

const rowsIn = (pages: SheetLine[]): number => pages.reduce((sum, page) => sum + page.rows, 0);

/** From an empty shop to the first program: what is done, what comes next, and nothing that can wait. */
export function FirstSteps({ title }: { title: string }) {
  const tables = useQuery(tablesQuery);
  const sets = useQuery(torchSetsQuery);
  const pages = useQuery(pagesQuery);
  if (!tables.data || !sets.data || !pages.data) return null;
  const steps = [
    {
      name: 'The table',
      says: 'A name, and whether the shop thinks in millimetres or inches.',
      done: few(tables.data.map((t) => t.name)),
      to: '/trials/new',
    },
    {
      name: 'What is fitted',
      says: 'The torch set: its amperage, its gas, and the hand of its swirl.',
      done: few(sets.data.map((s) => s.name)),
      to: '/trials/new',
    },
    {
      name: 'The manual’s rows',
      says: 'Pasted from a spreadsheet, or typed. Without them, type the numbers of one plate.',
      done: pages.data.length > 0 ? `${rowsIn(pages.data)} rows in the Book` : '',
      to: '/book/import?back=/trials/new',
    },
    {
      name: 'The trial',
      says: 'Metal and thickness: then it says what to cut first, and writes its program.',
      done: '',
      to: '/trials/new',
    },
  ];
  const next = steps.find((s) => s.done === '');
  return (
    <section className={styles.first} aria-labelledby="first">
      <h1 id="first">{title}</h1>
      <ol>
        {steps.map((s) => (
          <li key={s.name} data-next={s === next}>
            <Link to={s.to}>
              <strong>{s.name}</strong>
              <span>{s.done === '' ? s.says : `■ ${s.done}`}</span>
            </Link>
          </li>
        ))}
      </ol>
      <p>Each can be left and come back to: what is typed stays.</p>
    </section>
  );
}
