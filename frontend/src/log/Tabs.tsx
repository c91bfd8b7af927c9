import { isComb, type Log } from './log';
import styles from './log.module.css';

export type Shown = 'edges' | 'items' | 'look' | 'more' | 'photos';

const TABS: Record<Shown, string> = {
  edges: 'Edges',
  items: 'Each of them',
  look: 'Look closer',
  more: 'Kerf, arc, note',
  photos: 'Photos',
};

/** What there is to go through of this piece, in turning order. */
export function tabsOf(log: Log): Shown[] {
  const { slots, items, looks_whole: whole } = log.sheet;
  const has: Record<Shown, boolean> = {
    items: items.some((i) => i.number > 0),
    edges: slots.length > 0 && !isComb(log),
    look: whole.length > 0,
    more: !isComb(log),
    photos: !isComb(log),
  };
  return (['edges', 'items', 'look', 'more', 'photos'] as const).filter((k) => has[k]);
}

export function Tabs({ log, shown, onShow }: { log: Log; shown: Shown; onShow: (to: Shown) => void }) {
  const kinds = tabsOf(log);
  if (kinds.length < 2) return null;
  return (
    <div className={styles.tabs} role="group" aria-label="What to look at">
      {kinds.map((k) => (
        <button key={k} type="button" aria-pressed={shown === k} onClick={() => onShow(k)}>
          {TABS[k]}
        </button>
      ))}
    </div>
  );
}
