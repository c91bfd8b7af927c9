import styles from './trouble.module.css';
import type { Ask } from './queries';

const EFFORT = {
  look: 'A look tells.',
  measure: 'A measurement tells.',
  cut: 'One cut tells.',
  cabinet: 'It takes opening a cabinet.',
} as const;

/** The one question that separates the causes best for what it costs to answer. */
export function Question({ ask, onAnswer }: { ask: Ask; onAnswer: (answer: string | boolean) => void }) {
  return (
    <section aria-label="The question" className={styles.question}>
      <h2>{ask.question}</h2>
      <p className="soft">{EFFORT[ask.effort]}</p>
      <div className={styles.answers}>
        {ask.choices.map((c) => (
          <button key={String(c.value)} type="button" onClick={() => onAnswer(c.value)}>
            {c.words}
          </button>
        ))}
        <button type="button" data-quiet onClick={() => onAnswer('not_known')}>
          I don’t know
        </button>
      </div>
    </section>
  );
}
