import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, Refusal, type BookRow, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Doubt } from '../kit/Doubt';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { metalsQuery, torchSetsQuery } from '../kit/queries';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { showAlong, showLength, showSpeed, showThickness, unitOf, type ShopUnits } from '../kit/units';
import { useStillReading } from '../kit/reading';
import styles from './book.module.css';
import type { Sheet } from './queries';

type Numbers = Pick<
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
type Name = keyof Numbers;
type Given = Partial<Record<Name, number | null>>;

interface Props {
  /** The page of the Book it belongs to; null lets metal and set be chosen. */
  of: Sheet | null;
  row: BookRow | null;
  units: ShopUnits;
  onClose: () => void;
}

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

/** A row as a manual's page has it. A corrected row takes the old one's place, which is kept. */
export function RowDialog({ of, row, units, onClose }: Props) {
  const sets = useQuery(torchSetsQuery);
  const metals = useQuery(metalsQuery);
  const queries = useQueryClient();
  const say = useSay();
  const reading = useStillReading();
  const [metal, setMetal] = useState(of?.metal ?? 'mild_steel');
  const [setId, setSetId] = useState<number | null>(of?.torch_set.id ?? null);
  const [gas, setGas] = useState(of?.gas ?? '');
  const [shield, setShield] = useState(row?.shield_gas ?? '');
  const [surface, setSurface] = useState(row?.surface ?? '');
  const [bed, setBed] = useState(row?.bed ?? '');
  const [source, setSource] = useState(row?.example ? '' : (row?.source ?? ''));
  const [given, setGiven] = useState<Given>(() => ({ ...(row ?? {}) }));
  const [more, setMore] = useState(false);
  const chosen = setId ?? sets.data?.[0]?.id ?? null;
  const save = useMutation({
    mutationFn: (said: Said) =>
      answered(
        api.POST('/api/book/rows', {
          body: {
            ...(numbersOf(given) as Required<Numbers>),
            metal,
            torch_set_id: chosen ?? 0,
            gas: gas.trim() || null,
            shield_gas: shield.trim() || null,
            surface: surface.trim() || null,
            bed: (bed || null) as 'water' | 'downdraft' | 'open' | null,
            source,
            supersedes_id: row?.id ?? null,
            ...said,
          },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['rows'] });
      await queries.invalidateQueries({ queryKey: ['start'] });
      say({ text: row ? 'Corrected; the old row is kept behind it.' : 'The row is in the Book.' });
      onClose();
    },
  });
  const [said, setSaid] = useState<Said>(NOTHING_SAID);
  const insist = (more: Partial<Said>) => {
    setSaid({ ...said, ...more });
    save.mutate({ ...said, ...more });
  };
  const doubted = save.error instanceof Refusal ? save.error.doubted : null;
  const missing = NEEDED.filter((n) => given[n] === null || given[n] === undefined);
  const wanting = [
    ...missing.map((n) => MISSING[n] ?? n),
    ...(source.trim() === '' ? ['where it comes from'] : []),
  ];
  const stillMissing = reading
    ? 'One of the numbers waits for your answer.'
    : wanting.length > 0
      ? `Still missing: ${wanting.join(', ')}.`
      : '';
  const field = (name: Name) => ({
    onRead: (value: number | null) => {
      setGiven((before) => ({ ...before, [name]: value }));
      // Another number is asked about anew.
      setSaid((before) => ({ ...before, insisted: before.insisted.filter((f) => f !== name) }));
    },
    initial: initialText(name, row, units),
  });
  const length = { quantity: 'length', unit: units.length_unit } as const;
  return (
    <Dialog open fullWidth maxWidth="md" onClose={onClose} aria-labelledby="row-title">
      <DialogTitle id="row-title">
        {row ? 'Correct the row' : 'A row from a manual, or your own'}
      </DialogTitle>
      <DialogContent>
        <div className={styles.rowForm}>
          {of === null && metals.data && sets.data && (
            <>
              <Choices
                label="Metal"
                value={metal}
                choices={metals.data.map((m) => ({ value: m.name, label: m.label }))}
                onChoose={setMetal}
              />
              <Choices
                label="Torch set"
                value={chosen}
                choices={sets.data.map((s) => ({ value: s.id, label: s.name }))}
                onChoose={setSetId}
              />
            </>
          )}
          <div className={styles.rowNumbers}>
            <QuantityField
              label="Thickness"
              means="thickness"
              {...length}
              metal={metal}
              {...field('thickness_mm')}
            />
            <QuantityField
              label="Speed"
              quantity="speed"
              means="cut_speed"
              unit={units.speed_unit}
              {...field('speed_mm_min')}
            />
            <QuantityField
              label="Arc voltage"
              quantity="voltage"
              means="arc_voltage"
              unit="V"
              help="empty where it gives none"
              {...field('arc_voltage_v')}
            />
            <QuantityField
              label="Cut height"
              means="cut_height"
              {...length}
              {...field('cut_height_mm')}
            />
            <QuantityField
              label="Pierce height"
              means="pierce_height"
              {...length}
              {...field('pierce_height_mm')}
            />
            <QuantityField
              label="Pierce delay"
              quantity="time"
              means="pierce_delay"
              unit="s"
              help="0 is a value"
              {...field('pierce_delay_s')}
            />
            <QuantityField
              label="Kerf"
              means="kerf"
              help="empty where it gives none"
              {...length}
              {...field('kerf_mm')}
            />
            <QuantityField
              label="Amperage"
              quantity="current"
              unit="A"
              help="empty: what the set is rated for"
              {...field('amperage_a')}
            />
          </div>
          <TextField
            label="Where it comes from"
            value={source}
            most={200}
            placeholder="manual and page, neighbour shop, own guess"
            onType={setSource}
          />
          <Button variant="text" aria-expanded={more} onClick={() => setMore(!more)}>
            {more ? 'Less' : 'Gases, surface, bed, bounds'}
          </Button>
          {more && (
            <div className={styles.rowNumbers}>
              <TextField
                label="Plasma gas"
                value={gas}
                most={60}
                placeholder="the set’s own"
                onType={setGas}
              />
              <TextField label="Shield gas" value={shield} most={60} onType={setShield} />
              <QuantityField
                label="Gas pressure"
                quantity="pressure"
                unit={unitOf('pressure', units)}
                {...field('gas_pressure_kpa')}
              />
              <QuantityField
                label="Gas flow"
                quantity="flow"
                unit={unitOf('flow', units)}
                {...field('gas_flow_l_min')}
              />
              <QuantityField
                label="Shield pressure"
                quantity="pressure"
                unit={unitOf('pressure', units)}
                {...field('shield_pressure_kpa')}
              />
              <QuantityField
                label="Shield flow"
                quantity="flow"
                unit={unitOf('flow', units)}
                {...field('shield_flow_l_min')}
              />
              <TextField
                label="Surface"
                value={surface}
                most={60}
                placeholder="scale, pickled, oiled, painted"
                onType={setSurface}
              />
              <Choices
                label="Bed it holds for"
                value={bed}
                choices={[
                  { value: 'water', label: 'water' },
                  { value: 'downdraft', label: 'downdraft' },
                  { value: 'open', label: 'open' },
                ]}
                onChoose={setBed}
              />
              <QuantityField
                label="Water above the underside"
                {...length}
                help="minus: below the plate"
                {...field('water_level_mm')}
              />
              <QuantityField label="Sensible from" {...length} {...field('least_thickness_mm')} />
              <QuantityField label="Sensible up to" {...length} {...field('most_thickness_mm')} />
            </div>
          )}
          {doubted !== null && (
            <Doubt error={save.error} onInsist={(f) => insist({ insisted: [...said.insisted, f] })} />
          )}
          {save.isError && doubted === null && (
            <Notice kind="refusal">
              {refusalText(save.error)}
              {questions(save.error, 'amperage_a') && (
                <button
                  type="button"
                  className={styles.mend}
                  onClick={() => insist({ amperage_is_right: true })}
                >
                  It is right: keep it
                </button>
              )}
              {questions(save.error, 'takes_its_place') && (
                <button
                  type="button"
                  className={styles.mend}
                  onClick={() => insist({ takes_its_place: true })}
                >
                  This one: the other is kept behind it
                </button>
              )}
            </Notice>
          )}
        </div>
      </DialogContent>
      <DialogActions>
        <p className={styles.stillMissing} role="status">
          {stillMissing}
        </p>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
        <Button
          variant="contained"
          disabled={reading || missing.length > 0 || source.trim() === '' || save.isPending}
          onClick={() => save.mutate(said)}
        >
          {row ? 'Correct it' : 'Into the Book'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** What the operator insisted on when asked. */
interface Said {
  amperage_is_right: boolean;
  takes_its_place: boolean;
  insisted: string[];
}

const NOTHING_SAID: Said = { amperage_is_right: false, takes_its_place: false, insisted: [] };

/** Asked about, not refused: an amperage far below the rating, or which of two rows stands. */
const questions = (error: unknown, field: string): boolean =>
  error instanceof Refusal && error.status === 409 && error.fields.some((f) => f.field === field);

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
function initialText(name: Name, row: BookRow | null, units: ShopUnits): string {
  const value = row?.[name];
  if (value === null || value === undefined) return '';
  if (name.endsWith('thickness_mm')) return showThickness(value, units).text;
  if (name === 'speed_mm_min') return showSpeed(value, units).text;
  if (name.endsWith('_kpa')) return showAlong('pressure', value, units).text;
  if (name.endsWith('_l_min')) return showAlong('flow', value, units).text;
  return name.endsWith('_mm') ? showLength(value, units).text : String(value);
}
