import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import type { ReactNode } from 'react';
import styles from './kit.module.css';

export interface Choice<T extends string | number> {
  value: T;
  label: ReactNode;
}

/** A question with a few large answers side by side. */
export function Choices<T extends string | number>(p: {
  label: string;
  choices: readonly Choice<T>[];
  value: T | null;
  onChoose: (value: T) => void;
}) {
  return (
    <fieldset className={styles.choices}>
      <legend>{p.label}</legend>
      <ToggleButtonGroup
        exclusive
        value={p.value}
        onChange={(_, value: T | null) => {
          if (value !== null) p.onChoose(value);
        }}
        aria-label={p.label}
        className={styles.answers}
      >
        {p.choices.map((c) => (
          <ToggleButton key={c.value} value={c.value}>
            {c.label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </fieldset>
  );
}
