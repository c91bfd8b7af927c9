import { useEffect, useId, useState } from 'react';
import { answered, api } from './client';
import { refusalText } from './Notice';
import styles from './kit.module.css';

export interface QuantityFieldProps {
  label: string;
  quantity: 'length' | 'speed' | 'voltage' | 'time' | 'angle' | 'current';
  unit: string;
  /** Text to begin with, in `unit`. */
  initial?: string;
  metal?: string | undefined;
  expected?: number | undefined;
  help?: string | undefined;
  /** Called with the value in the kept unit, or null while the text cannot be used. */
  onRead: (value: number | null) => void;
}

const PAUSE_MS = 220;

/** Takes "95 ipm", "0.07 in", "5/16", "14 ga"; says the unit; questions what is absurd. */
export function QuantityField(p: QuantityFieldProps) {
  const [text, setText] = useState(p.initial ?? '');
  const [said, setSaid] = useState<{ refused?: string; question?: string }>({});
  const [accepted, setAccepted] = useState('');
  const { quantity, unit, metal, expected, label, onRead } = p;
  const id = useId();

  useEffect(() => {
    let current = true;
    const timer = setTimeout(() => {
      if (text.trim() === '') {
        setSaid({});
        onRead(null);
        return;
      }
      answered(
        api.POST('/api/quantities/read', {
          body: { text, quantity, unit, metal: metal ?? null, expected: expected ?? null, field: label },
        }),
      )
        .then((read) => {
          if (!current) return;
          const doubted = read.question !== null && accepted !== text;
          setSaid(doubted ? { question: read.question ?? '' } : {});
          onRead(doubted ? null : read.value);
        })
        .catch((refused: unknown) => {
          if (!current) return;
          setSaid({ refused: refusalText(refused) });
          onRead(null);
        });
    }, PAUSE_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
    // onRead is the parent's setter: a new one each render must not ask the server again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text, quantity, unit, metal, expected, label, accepted]);

  const wrong = said.refused ?? said.question;
  return (
    <div className={styles.field}>
      <label htmlFor={id}>{label}</label>
      <div className={styles.entry} data-wrong={wrong !== undefined}>
        <input
          id={id}
          value={text}
          onChange={(e) => setText(e.target.value)}
          inputMode="text"
          autoComplete="off"
          aria-invalid={wrong !== undefined}
          aria-describedby={`${id}-said`}
        />
        <span aria-hidden="true">{/[a-z"°#/]/i.test(text) ? '' : unit}</span>
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
