import type { Line } from './queries';

export const STATE_WORDS: Record<Line['state'] | 'away', string> = {
  none: 'No line',
  connecting: 'Connecting',
  listening: 'Listening',
  silent: 'Silent',
  broken: 'Gone',
  away: 'Orthotome does not answer. What it had recorded is kept; this page goes on when it is back.',
};
