import { TEMPER_GRADIENT } from './temper';
import { chanceInWords } from './units';
import styles from './kit.module.css';

/** Chance to pass: the temper ramp with a mark on it, and the words beside it. */
export function TemperBar({ chance, label }: { chance: number; label: string }) {
  return (
    <div className={styles.chance}>
      <span>{label}</span>
      <span className={styles.ramp} style={{ background: TEMPER_GRADIENT }} aria-hidden="true">
        <i style={{ left: `${Math.min(Math.max(chance, 0.015), 0.985) * 100}%` }} />
      </span>
      <strong>{chanceInWords(chance)}</strong>
    </div>
  );
}
