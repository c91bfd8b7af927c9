/** A row of the Book as it is typed, without React: what it says, what is still missing, what the server gets of it. */
import type { BookRow, Schema } from '../kit/client';
import { showAlong, showLength, showSpeed, showThickness, type ShopUnits } from '../kit/units';
import type { Sheet } from './queries';

export type Numbers = Pick<
  Schema['BookRowRequest'],
  | 'thickness_mm'
  | 'speed_mm_min'
  | 'cut_height_mm'
  | 'pierce_height_mm'
  | 'pierce_delay_s'
  | 'kerf_mm'
  | 'arc_voltage_v'
  | 'amperage_a'
  | 'gas_pressure_kpa'
  | 'gas_flow_l_min'
  | 'shield_pressure_kpa'
  | 'shield_flow_l_min'
  | 'water_level_mm'
  | 'least_thickness_mm'
  | 'most_thickness_mm'
>;
export type Name = keyof Numbers;
export type Given = Partial<Record<Name, number | null>>;

const NEEDED: Name[] = [
  'thickness_mm',
  'speed_mm_min',
  'cut_height_mm',
  'pierce_height_mm',
  'pierce_delay_s',
];

const MISSING: Partial<Record<Name, string>> = {
  thickness_mm: 'thickness',
  speed_mm_min: 'speed',
  cut_height_mm: 'cut height',
  pierce_height_mm: 'pierce height',
  pierce_delay_s: 'pierce delay',
};

/** What is said of a row in words. */
export interface Words {
  metal: string;
  setId: number | null;
  gas: string;
  shield: string;
  surface: string;
  bed: string;
  source: string;
}

export const wordsOf = (of: Sheet | null, row: BookRow | null): Words => ({
  metal: of?.metal ?? 'mild_steel',
  setId: of?.torch_set.id ?? null,
  gas: of?.gas ?? '',
  shield: row?.shield_gas ?? '',
  surface: row?.surface ?? '',
  bed: row?.bed ?? '',
  source: row === null || row.example ? '' : row.source,
});

/** What the server gets of a row. */
export function requestOf(given: Given, words: Words, said: Said, row: BookRow | null) {
  return {
    ...(numbersOf(given) as Required<Numbers>),
    metal: words.metal,
    torch_set_id: words.setId ?? 0,
    gas: words.gas.trim() || null,
    shield_gas: words.shield.trim() || null,
    surface: words.surface.trim() || null,
    bed: (words.bed || null) as 'water' | 'downdraft' | 'open' | null,
    source: words.source,
    supersedes_id: row?.id ?? null,
    ...said,
  };
}

export const missingOf = (given: Given, { source }: Words): string[] => [
  ...NEEDED.filter((n) => (given[n] ?? null) === null).map((n) => MISSING[n] ?? n),
  ...(source.trim() === '' ? ['where it comes from'] : []),
];

export function missingText(wanting: readonly string[], reading: boolean): string {
  if (reading) return 'One of the numbers waits for your answer.';
  return wanting.length > 0 ? `Still missing: ${wanting.join(', ')}.` : '';
}

/** What the operator insisted on when asked. */
export interface Said {
  amperage_is_right: boolean;
  takes_its_place: boolean;
  insisted: string[];
}

export const NOTHING_SAID: Said = { amperage_is_right: false, takes_its_place: false, insisted: [] };

const NAMES: Name[] = [
  ...NEEDED,
  'kerf_mm',
  'arc_voltage_v',
  'amperage_a',
  'gas_pressure_kpa',
  'gas_flow_l_min',
  'shield_pressure_kpa',
  'shield_flow_l_min',
  'water_level_mm',
  'least_thickness_mm',
  'most_thickness_mm',
];

const numbersOf = (given: Given): Given => Object.fromEntries(NAMES.map((n) => [n, given[n] ?? null]));

/** The old row's number as the shop shows it, with its unit, so that nothing is lost in reading it. */
export function initialText(name: Name, row: BookRow | null, units: ShopUnits): string {
  const value = row?.[name];
  if (value === null || value === undefined) return '';
  if (name.endsWith('thickness_mm')) return showThickness(value, units).text;
  if (name === 'speed_mm_min') return showSpeed(value, units).text;
  if (name.endsWith('_kpa')) return showAlong('pressure', value, units).text;
  if (name.endsWith('_l_min')) return showAlong('flow', value, units).text;
  return name.endsWith('_mm') ? showLength(value, units).text : String(value);
}
