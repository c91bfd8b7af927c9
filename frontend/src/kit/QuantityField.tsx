import { useEffect, useId, useState } from 'react';
import { answered, api, type Schema } from './client';
import { refusalText } from './Notice';
import { useMarkReading } from './reading';
import styles from './kit.module.css';
import { writtenUnit } from './units';

export interface QuantityFieldProps {
  label: string;
  quantity: Schema['QuantityRequest']['quantity'];
  unit: string;
  /** Text to begin with, in `unit`. It is rounded for showing: until it is typed over, nothing is read. */
  initial?: string;
  metal?: string | undefined;
  expected?: number | undefined;
  /** What such a number can mean at all: far outside it is questioned. */
  means?: Schema['QuantityRequest']['means'] | undefined;
  help?: string | undefined;
  /** Called with the value in the kept unit, or null while the text cannot be used. */
  onRead: (value: number | null) => void;
  /** What stands in the field, as it was typed. */
  onText?: (text: string) => void;
  /** Reads out only when the field is left after typing: for what is kept at once. */
  whenLeft?: boolean;
}

const PAUSE_MS = 220;

/** Takes "95 in/min", "0.07 in", "5/16", "14 ga"; says the unit; questions what is absurd. */
export function QuantityField(p: QuantityFieldProps) {
  // What is kept at once begins anew in another unit: a number typed in the old one is kept by then.
  return <Field key={p.whenLeft ? p.unit : ''} {...p} />;
}

function Field(p: QuantityFieldProps) {
  const [own, setText] = useState('');
  const [typed, setTyped] = useState(false);
  // Until it is typed over it shows what it was given, also when that is said in another unit by now.
  const text = typed ? own : (p.initial ?? '');
  const [said, setSaid] = useState<{ refused?: string; question?: string }>({});
  const [accepted, setAccepted] = useState('');
  const { quantity, unit, metal, expected, means, label, whenLeft } = p;
  const id = useId();
  const mark = useMarkReading();
  useEffect(() => () => mark(id, false), [mark, id]);
  const [read, setRead] = useState<{ text: string; value: number } | null>(null);
  const [left, setLeft] = useState<string | null>(null);
  const onRead = (value: number | null) => {
    if (!whenLeft) p.onRead(value);
    else setRead(value === null ? null : { text, value });
  };
  useEffect(() => {
    if (left === null) return;
    if (left.trim() === '') p.onRead(null);
    else if (read?.text === left) p.onRead(read.value);
    // The parent's setter is a new one each render; only leaving the field or its reading counts.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [read, left]);

  useEffect(() => {
    if (!typed) return;
    let current = true;
    const timer = setTimeout(() => {
      if (text.trim() === '') {
        setSaid({});
        onRead(null);
        mark(id, false);
        return;
      }
      answered(
        api.POST('/api/quantities/read', {
          body: {
            text,
            quantity,
            unit,
            metal: metal ?? null,
            expected: expected ?? null,
            means: means ?? null,
            field: label,
          },
        }),
      )
        .then((read) => {
          if (!current) return;
          const doubted = read.question !== null && accepted !== text;
          mark(id, doubted); // what saves waits for the answer
          setSaid(doubted ? { question: read.question ?? '' } : {});
          onRead(doubted ? null : read.value);
        })
        .catch((refused: unknown) => {
          if (!current) return;
          mark(id, true); // a number that cannot be read is not thrown away: it is put right, or erased
          setSaid({ refused: refusalText(refused) });
          onRead(null);
        });
    }, PAUSE_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
    // onRead is the parent's setter: a new one each render must not ask the server again.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [text, quantity, unit, metal, expected, means, label, accepted, typed]);

  const wrong = said.refused ?? said.question;
  return (
    <div className={styles.field}>
      <label htmlFor={id}>{label}</label>
      <div className={styles.entry} data-wrong={wrong !== undefined}>
        <input
          id={id}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setTyped(true);
            p.onText?.(e.target.value);
            mark(id, true);
          }}
          onBlur={() => {
            if (whenLeft && text !== (p.initial ?? '')) setLeft(text);
          }}
          inputMode="text"
          autoComplete="off"
          aria-invalid={wrong !== undefined}
          aria-describedby={`${id}-said`}
        />
        <span aria-hidden="true">{/[a-z"°#/]/i.test(text) ? '' : writtenUnit(unit)}</span>
      </div>
      <p id={`${id}-said`} className={wrong ? styles.wrong : styles.help}>
        {wrong ?? p.help ?? ''}
        {said.question && (
          <button type="button" className={styles.inline} onClick={() => setAccepted(text)}>
            It is right
          </button>
        )}
      </p>
    </div>
  );
}
