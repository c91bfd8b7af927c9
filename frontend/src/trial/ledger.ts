import type { Cut } from '../kit/client';
import { showDegrees, showLength, type ShopUnits } from '../kit/units';

export type ShowWhich = 'all' | 'counting' | 'struck' | 'changed';

/** Which cuts of a trial are shown. */
export const SHOWN: Record<ShowWhich, { label: string; holds: (cut: Cut) => boolean }> = {
  all: { label: 'All', holds: () => true },
  counting: { label: 'That count', holds: (c) => c.counts },
  struck: { label: 'Struck out', holds: (c) => c.struck_out },
  changed: { label: 'Changed since', holds: (c) => c.version > 1 },
};

type Look = Cut['looks'][number];

/** What was looked at, and on which part of the piece. */
export function lookName(cut: Cut, look: Look): string {
  if (look.item === 0) return look.question;
  const item = cut.items.find((i) => i.number === look.item);
  return `${look.item}${item ? `, ${item.name}` : ''}: ${look.question}`;
}

export function lookText(look: Look, units: ShopUnits): string {
  if (typeof look.number !== 'number') return look.answer;
  if (look.unit === 'angle') return showDegrees(look.number);
  return `${showLength(look.number, units).text} ${units.length_unit}`;
}
