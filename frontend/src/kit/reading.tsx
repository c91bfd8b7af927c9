import { createContext, useContext, useMemo, useState, type ReactNode } from 'react';

type Mark = (field: string, reading: boolean) => void;

const MarkContext = createContext<Mark>(() => undefined);
const ReadingContext = createContext(false);

/**
 * Knows whether any field still waits for what was typed into it to be read. What saves stands still
 * meanwhile: a number typed a moment ago must not be left behind.
 */
export function Readings({ children }: { children: ReactNode }) {
  const [fields, setFields] = useState<ReadonlySet<string>>(new Set());
  const mark = useMemo<Mark>(
    () => (field, reading) =>
      setFields((before) => {
        if (before.has(field) === reading) return before;
        const after = new Set(before);
        if (reading) after.add(field);
        else after.delete(field);
        return after;
      }),
    [],
  );
  return (
    <MarkContext value={mark}>
      <ReadingContext value={fields.size > 0}>{children}</ReadingContext>
    </MarkContext>
  );
}

export const useMarkReading = () => useContext(MarkContext);

export const useStillReading = () => useContext(ReadingContext);
