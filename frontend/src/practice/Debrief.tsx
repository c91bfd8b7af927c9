import Button from '@mui/material/Button';
import type { Schema } from '../kit/client';
import { Notice } from '../kit/Notice';
import styles from './practice.module.css';

type How = Schema['DebriefAnswer'];
type Step = How['mine'][number];

/** The hidden truth, and both ways to it side by side. */
export function Debrief({ how, onAgain }: { how: How; onAgain: () => void }) {
  return (
    <section aria-label="The truth" className={styles.debrief}>
      <h2 data-passed={how.passed}>{how.passed ? 'Passed' : 'Not passed'}</h2>
      <p className={styles.sentence}>{how.sentence}</p>
      {how.teaches && <p>{how.teaches}</p>}
      <article>
        <h3>{how.cause}</h3>
        <p>{how.why}</p>
        <p>
          <strong>First:</strong> {how.right_act}.
        </p>
        {how.cautions.map((c) => (
          <Notice key={c} kind="caution">
            {c}
          </Notice>
        ))}
        <p>
          <strong>To prove it:</strong> {how.check}
        </p>
        <p>
          <strong>To put it right:</strong> {how.fix}
        </p>
      </article>
      <div className={styles.ways}>
        <Way title={`Your way, ${how.spent.toFixed(1)} looks`} steps={how.mine} />
        <Way title={`A master’s, ${how.masters_spent.toFixed(1)} looks`} steps={how.masters} />
      </div>
      <Button variant="outlined" onClick={onAgain}>
        Take it again
      </Button>
    </section>
  );
}

function Way({ title, steps }: { title: string; steps: readonly Step[] }) {
  return (
    <section aria-label={title}>
      <h3>{title}</h3>
      {steps.length === 0 && <p className="soft">Named without asking.</p>}
      <ol>
        {steps.map((s) => (
          <li key={s.code}>
            {s.question} <strong>{s.answer}</strong>
            <small>
              {s.chance_after !== null &&
                `then ${Math.round(100 * s.chance_after)} in 100 for the truth`}
              {s.worth !== null && s.worth < 0.5 && ', and others would have told more for it'}
            </small>
          </li>
        ))}
      </ol>
    </section>
  );
}
