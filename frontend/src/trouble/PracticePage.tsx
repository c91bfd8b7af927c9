import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import styles from './practice.module.css';

const MOST = 999_999;

/** Exercises in finding a fault, and the sheet of whoever is signed on. */
export function PracticePage() {
  const found = useQuery({
    queryKey: ['practice'],
    queryFn: () => answered(api.GET('/api/practice')),
  });
  const [number, setNumber] = useState<number | null>(null);
  const go = useNavigate();
  const take = (one: string | number) => void go(`/practice/${one}`);
  if (found.isError) return <Notice kind="refusal">{refusalText(found.error)}</Notice>;
  if (!found.data) return null;
  const { exercises, taken, person } = found.data;
  const passed = exercises.filter((e) => e.passed).length;
  const sound = number !== null && Number.isInteger(number) && number >= 0 && number <= MOST;
  return (
    <main className={styles.practice}>
      <header>
        <h1>Practice</h1>
        <p>
          A fault is hidden. Ask what would tell, name it, and say what you would do first: then the
          truth is shown, beside a master’s way. Nothing here is of a real table.
        </p>
      </header>
      <div className={styles.columns}>
        <section aria-label="Exercises">
          <h2>
            {passed} of {exercises.length} passed{person && ` by ${person}`}
          </h2>
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
        </section>
        <div className={styles.side}>
          <section aria-label="Without end">
            <h2>Without end</h2>
            <p>
              Answers here may mislead, as they do in the shop. A number is the same case for everybody.
            </p>
            <div className={styles.acts}>
              <Button variant="contained" onClick={() => take(Math.floor(Math.random() * (MOST + 1)))}>
                Any case
              </Button>
              <NumberField
                label="Or by its number"
                value={number}
                help={number !== null && !sound ? `a whole number up to ${MOST}` : ''}
                onType={setNumber}
              />
              <Button
                variant="outlined"
                disabled={!sound}
                onClick={() => number !== null && take(number)}
              >
                Take it
              </Button>
            </div>
          </section>
          {taken.length > 0 && (
            <section aria-label="Taken" className={styles.taken}>
              <h2>Taken{person && ` by ${person}`}</h2>
              <ul>
                {taken.slice(0, 20).map((t, i) => (
                  <li key={i}>
                    <span>{t.title}</span>
                    <em data-passed={t.passed}>{t.passed ? '✓ passed' : 'not passed'}</em>
                    <small>
                      {new Date(t.taken_at).toLocaleDateString()}, {t.spent.toFixed(1)} looks
                    </small>
                  </li>
                ))}
              </ul>
            </section>
          )}
        </div>
      </div>
    </main>
  );
}
