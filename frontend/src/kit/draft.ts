import { useCallback, useState } from 'react';
import { ownKey } from './place';

/**
 * Keeps a text, if there is room for it: what is too long to outlive a reload is still what stands on the screen, and
 * nothing older is kept in its place.
 */
export function keepText(
  storage: Pick<Storage, 'setItem' | 'removeItem'>,
  key: string,
  text: string,
): boolean {
  try {
    storage.setItem(key, text);
    return true;
  } catch {
    storage.removeItem(key);
    return false;
  }
}

/** State that outlives a reload of this tab: what is half typed, and what was chosen here before. */
export function useDraft<T>(name: string, initial: T): [T, (next: T | ((was: T) => T)) => void] {
  const key = ownKey(name);
  const [value, setValue] = useState<T>(() => {
    const kept = sessionStorage.getItem(key);
    return kept === null ? initial : (JSON.parse(kept) as T);
  });
  const set = useCallback(
    (next: T | ((was: T) => T)) =>
      setValue((was) => {
        const now = typeof next === 'function' ? (next as (was: T) => T)(was) : next;
        keepText(sessionStorage, key, JSON.stringify(now));
        return now;
      }),
    [key],
  );
  return [value, set];
}

/** What was half typed is done: the next begins anew. */
export const forget = (name: string): void => sessionStorage.removeItem(ownKey(name));
