import Button from '@mui/material/Button';
import { useState } from 'react';
import { NumberField } from '../kit/NumberField';
import styles from './practice.module.css';

const MOST = 999_999;

/** Exercises without end: a number is the same one for everybody. */
export function Numbered(p: { what: 'table' | 'case'; busy?: boolean; onTake: (n: number) => void }) {
  const [number, setNumber] = useState<number | null>(null);
  const sound = number !== null && Number.isInteger(number) && number >= 0 && number <= MOST;
  return (
    <div className={styles.numbered}>
      <Button
        variant="outlined"
        disabled={p.busy ?? false}
        onClick={() => p.onTake(Math.floor(Math.random() * (MOST + 1)))}
      >
        Any {p.what}
      </Button>
      <NumberField
        label={`Or a ${p.what} by its number`}
        value={number}
        help={number !== null && !sound ? `a whole number up to ${MOST}` : 'the same for everybody'}
        onType={setNumber}
      />
      <Button
        variant="outlined"
        disabled={!sound || (p.busy ?? false)}
        onClick={() => sound && p.onTake(number)}
      >
        Take it
      </Button>
    </div>
  );
}
