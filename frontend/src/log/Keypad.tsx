import { Icon } from '../kit/icons';
import styles from './log.module.css';

interface Props {
  at: 'bevel' | 'volts';
  value: string;
  label: string;
  negative: boolean;
  onDigit: (d: string) => void;
  onSign: (negative: boolean) => void;
  onErase: () => void;
  onNext: () => void;
  onTenfold: () => void;
  onAgain: () => void;
}

/** Which way an edge lies, in a picture: the kept part, its foot out or tucked under. */
function Lie({ under }: { under: boolean }) {
  return (
    <svg viewBox="0 0 48 24" width={48} height={24} aria-hidden="true">
      <path d={under ? 'M46 2H14L24 22H46Z' : 'M46 2H24L14 22H46Z'} fill="currentColor" />
    </svg>
  );
}

/** Digits for gloves: two fill an edge, the sign stays as it was for the next. */
export function Keypad(p: Props) {
  const bevel = p.at === 'bevel';
  return (
    <>
      <p className={styles.reading} aria-live="polite">
        <span>{p.label}</span>
        <output className="number">{p.value || '–'}</output>
        <span>{bevel ? '2 4 is 2.4°, 2 and Next is 2°' : '1 2 7 6 is 127.6 V'}</span>
      </p>
      <div className={styles.signs} role="group" aria-label="Which way">
        {[false, true].map((under) => (
          <button
            key={String(under)}
            type="button"
            disabled={!bevel}
            aria-pressed={bevel && p.negative === under}
            onClick={() => p.onSign(under)}
          >
            <Lie under={under} />
            {under ? 'Undercut' : 'Bottom out'}
          </button>
        ))}
      </div>
      <div className={styles.digits}>
        {['7', '8', '9', '4', '5', '6', '1', '2', '3'].map((d) => (
          <button key={d} type="button" onClick={() => p.onDigit(d)}>
            {d}
          </button>
        ))}
        <button type="button" onClick={p.onErase} aria-label="Erase this reading">
          <Icon name="erase" size={30} />
        </button>
        <button type="button" onClick={() => p.onDigit('0')}>
          0
        </button>
        <button type="button" className={styles.nextKey} onClick={p.onNext}>
          Next
        </button>
      </div>
      {bevel && (
        <div className={styles.seldom}>
          <button type="button" onClick={p.onTenfold}>
            Last one ×10: ten degrees or more
          </button>
          <button type="button" disabled={p.value === ''} onClick={p.onAgain}>
            Read this edge once more
          </button>
        </div>
      )}
    </>
  );
}
