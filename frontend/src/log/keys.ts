import { useEffect, useRef } from 'react';
import { goTo, VOLTS, type Log } from './log';
import {
  back,
  digit,
  enter,
  erase,
  leansUnder,
  moreDross,
  next,
  onceMore,
  point,
  sign,
  tapDross,
} from './typing';

/** What each key does to the log; the list on ? says the same. */
const ACTS: Record<string, (log: Log, key: string) => Log> = {
  digit: (log, key) => digit(log, key),
  '-': (log) => sign(log, !leansUnder(log)),
  '.': (log) => point(log),
  ',': (log) => point(log),
  a: (log) => onceMore(log),
  Backspace: (log) => erase(log),
  Enter: (log) => enter(log),
  ArrowRight: (log) => next(log),
  ArrowDown: (log) => next(log),
  ArrowLeft: (log) => back(log),
  ArrowUp: (log) => back(log),
  v: (log) => goTo(log, VOLTS),
  d: (log) => ({ ...log, through: 'full' }),
  h: (log) => ({ ...log, through: 'partial' }),
  n: (log) => ({ ...log, through: 'none' }),
  x: (log) => tapDross(log, null, 0),
  c: (log) => moreDross(log, 'low_speed'),
  b: (log) => moreDross(log, 'high_speed'),
  s: (log) => ({ ...log, spatter: !log.spatter }),
};

/** Keys that say something of an edge or of the volts: they bring those back to sight. */
const OF_EDGES = /^(digit|[-.,av]|Backspace|Arrow.*)$/;

export function useKeys(
  log: Log,
  change: (to: Log) => void,
  acts: { save: () => void; toEdges: () => void },
) {
  const latest = useRef({ log, change, ...acts });
  useEffect(() => {
    latest.current = { log, change, ...acts };
  });
  useEffect(() => {
    // Whoever goes by Tab stays on the reading at hand when digits have filled the one before.
    const held = document.activeElement;
    if (held instanceof HTMLElement && held.dataset['slot'] && held.dataset['slot'] !== log.at)
      document.querySelector<HTMLElement>(`[data-slot="${log.at}"]`)?.focus();
  }, [log.at]);
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const now = latest.current;
      if (isTypedElsewhere(e.target)) return;
      if (e.key === 'Enter' && e.ctrlKey) {
        now.save();
        e.preventDefault();
        return;
      }
      if (e.ctrlKey || e.metaKey || e.altKey || pressesButton(e)) return;
      const key = /^\d$/.test(e.key) ? 'digit' : e.key;
      const act = ACTS[key.length === 1 ? key.toLowerCase() : key];
      if (!act || now.log.sheet.slots.length === 0) return;
      if (OF_EDGES.test(key)) now.toEdges();
      now.change(act(now.log, e.key));
      e.preventDefault();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, []);
}

const isTypedElsewhere = (target: EventTarget | null): boolean =>
  !(target instanceof HTMLElement) || target.closest('input, textarea, select') !== null;

/** Enter on a button that is no reading presses it. */
const pressesButton = (e: KeyboardEvent): boolean =>
  e.key === 'Enter' && e.target instanceof HTMLButtonElement && !e.target.dataset['slot'];
