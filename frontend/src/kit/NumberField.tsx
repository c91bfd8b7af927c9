import { useEffect, useId, useState } from 'react';
import { useMarkReading } from './reading';
import styles from './kit.module.css';

interface Props {
  label: string;
  value: number | null;
  /** What stands before or after the number: a unit, a sign. */
  before?: string;
  after?: string;
  help?: string;
  /** The number typed, or null for an empty field. Text that is no number is not passed on. */
  onType: (value: number | null) => void;
  /** The least that such a number can be; less is asked about, and not passed on. */
  least?: number;
  /** A count: no part of one. */
  whole?: boolean;
  /** Passes the number on only when the field is left: for what is kept at once. */
  whenLeft?: boolean;
}

/** A plain number without a unit of its own to choose: a ratio, a count, a price. */
export function NumberField({
  label,
  value,
  before,
  after,
  help,
  least,
  whole,
  onType,
  whenLeft,
}: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? (value === null ? '' : String(value));
  const passOn = (typed: string) => {
    const number = typed.trim() === '' ? null : numberOf(typed);
    if (wrongIn(typed, least, whole) !== null) return;
    if ((number !== null || typed.trim() === '') && number !== value) onType(number);
  };
  const said = wrongIn(shown, least, whole);
  const wrong = said !== null;
  const mark = useMarkReading();
  useEffect(() => {
    mark(id, wrong); // what saves waits until it is put right
    return () => mark(id, false);
  }, [mark, id, wrong]);
  return (
    <div className={styles.field}>
      <label htmlFor={id}>{label}</label>
      <div className={styles.entry} data-wrong={wrong}>
        {before && (
          <span className={styles.before} aria-hidden="true">
            {before}
          </span>
        )}
        <input
          id={id}
          value={shown}
          inputMode="decimal"
          autoComplete="off"
          aria-invalid={wrong}
          aria-describedby={`${id}-said`}
          onChange={(e) => {
            setText(e.target.value);
            if (!whenLeft) passOn(e.target.value);
          }}
          onBlur={() => {
            if (whenLeft && text !== null) passOn(text);
            if (!wrong) setText(null);
          }}
        />
        {after && <span aria-hidden="true">{after}</span>}
      </div>
      <p id={`${id}-said`} className={wrong ? styles.wrong : styles.help}>
        {said ?? help ?? ''}
      </p>
    </div>
  );
}

/** What is wrong with what was typed, or null. */
function wrongIn(text: string, least?: number, whole?: boolean): string | null {
  if (text.trim() === '') return null;
  const number = numberOf(text);
  if (number === null) return 'Write a number.';
  if (least !== undefined && number < least) return `${least} or more: there is no less of it.`;
  return whole && !Number.isInteger(number) ? 'A whole number.' : null;
}

/** A number as people type it, with a comma or a point; null for anything else. */
export function numberOf(text: string): number | null {
  const plain = text.trim().replace(',', '.');
  return /^-?\d*\.?\d+$/.test(plain) ? Number(plain) : null;
}
