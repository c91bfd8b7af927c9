import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import { ownKey } from './place';
import type { Light } from './theme';

interface Settings {
  light: Light;
  setLight: (light: Light) => void;
  tableId: number | null;
  setTableId: (id: number) => void;
  person: string;
  setPerson: (name: string) => void;
}

const Context = createContext<Settings | null>(null);

/** What this screen remembers by itself: its light, its table, and who stands at it. */
export function ScreenSettings({ children }: { children: ReactNode }) {
  const [light, setLight] = useState<Light>(() =>
    localStorage.getItem('light') === 'night' ? 'night' : 'day',
  );
  const [tableId, setTableId] = useState<number | null>(
    () => Number(localStorage.getItem(ownKey('table'))) || null,
  );
  const [person, setPerson] = useState(() => localStorage.getItem('person') ?? '');
  useEffect(() => {
    document.documentElement.dataset['theme'] = light;
    localStorage.setItem('light', light);
  }, [light]);
  useEffect(() => {
    if (tableId !== null) localStorage.setItem(ownKey('table'), String(tableId));
    localStorage.setItem('person', person);
  }, [tableId, person]);
  const value = useMemo(
    () => ({ light, setLight, tableId, setTableId, person, setPerson }),
    [light, tableId, person],
  );
  return <Context value={value}>{children}</Context>;
}

export function useSettings(): Settings {
  const found = useContext(Context);
  if (!found) throw new Error('useSettings is used outside ScreenSettings');
  return found;
}
