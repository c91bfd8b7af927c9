import Button from '@mui/material/Button';
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { showThickness, type ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import styles from './piece.module.css';

type Plate = Schema['PlateAnswer'];
type Zone = Schema['ZoneModel'];

export const platesQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['plates', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/plates', { params: { path: { table_id: tableId } } })),
  });

const NEW = -1;
const NONE = 0;

interface Props {
  tableId: number;
  plateId: number | null;
  spots: Zone[];
  units: ShopUnits;
  onChoose: (plateId: number | null) => void;
}

/** The scrap that the piece is cut from: drawn with what is taken of it, and where the piece goes. */
export function PlateChooser({ tableId, plateId, spots, units, onChoose }: Props) {
  const plates = useQuery(platesQuery(tableId));
  const [adding, setAdding] = useState(false);
  if (!plates.data) return null;
  const chosen = plates.data.find((p) => p.id === plateId) ?? null;
  return (
    <>
      <Choices
        label="Cut it from"
        value={adding ? NEW : (chosen?.id ?? NONE)}
        choices={[
          { value: NONE, label: 'any plate' },
          ...plates.data.map((p) => ({
            value: p.id,
            label: `${p.name}, ${Math.round(100 * p.free_share)} % free`,
          })),
          { value: NEW, label: 'another scrap' },
        ]}
        onChoose={(id) => {
          setAdding(id === NEW);
          if (id !== NEW) onChoose(id === NONE ? null : id);
        }}
      />
      {adding && (
        <NewPlate
          tableId={tableId}
          units={units}
          onAdded={(id) => {
            setAdding(false);
            onChoose(id);
          }}
        />
      )}
      {chosen && !adding && <PlateFromAbove plate={chosen} spots={spots} units={units} />}
      {chosen && !adding && <NoGo plate={chosen} tableId={tableId} units={units} />}
      {chosen && !adding && <UsedUp plate={chosen} onGone={() => onChoose(null)} />}
    </>
  );
}

function PlateFromAbove({ plate, spots, units }: { plate: Plate; spots: Zone[]; units: ShopUnits }) {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/plate-zones/{zone_id}/struck', {
          params: { path: { zone_id: id }, query: { out } },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['plates'] });
      await queries.invalidateQueries({ queryKey: ['piece'] });
    },
  });
  const shown = (mm: number) => showThickness(mm, units).text;
  const line = Math.max(plate.width_mm, plate.height_mm) / 250;
  const at = (z: Zone) => ({
    x: z.x_mm,
    y: plate.height_mm - z.y_mm - z.height_mm,
    width: z.width_mm,
    height: z.height_mm,
  });
  return (
    <figure className={styles.scrap}>
      <svg
        viewBox={`${-line} ${-line} ${plate.width_mm + 2 * line} ${plate.height_mm + 2 * line}`}
        role="img"
        aria-label={`${plate.name} from above, ${shown(plate.width_mm)} by ${shown(plate.height_mm)} ${units.length_unit}, ${plate.zones.length} places taken`}
      >
        <rect width={plate.width_mm} height={plate.height_mm} fill="var(--plate)" />
        {plate.zones.map((z) => (
          <rect
            key={z.id}
            {...at(z)}
            fill="var(--ground)"
            stroke="var(--plate-ink)"
            strokeWidth={line}
          />
        ))}
        {spots.map((s) => (
          <rect
            key={`${s.x_mm} ${s.y_mm}`}
            {...at(s)}
            fill="var(--straw)"
            stroke="var(--ink)"
            strokeWidth={2 * line}
          />
        ))}
      </svg>
      <figcaption>
        {shown(plate.width_mm)} × {shown(plate.height_mm)} {units.length_unit}, zero at the near left
        corner; light: taken; straw: this piece.
      </figcaption>
      {plate.zones.length > 0 && (
        <ul>
          {plate.zones.map((z) => (
            <li key={z.id}>
              {z.what}
              <button
                type="button"
                onClick={() =>
                  strike.mutate(
                    { id: z.id, out: true },
                    {
                      onSuccess: () =>
                        say({
                          text: `Free again: ${z.what}.`,
                          undo: () => strike.mutate({ id: z.id, out: false }),
                        }),
                    },
                  )
                }
              >
                Free it
              </button>
            </li>
          ))}
        </ul>
      )}
    </figure>
  );
}

/** Scrap that nothing fits on any more leaves the list; a tap too many is undone. */
function UsedUp({ plate, onGone }: { plate: Plate; onGone: () => void }) {
  const queries = useQueryClient();
  const say = useSay();
  const sent = useMutation({
    mutationFn: (out: boolean) =>
      answered(
        api.PUT('/api/plates/{plate_id}/used-up', {
          params: { path: { plate_id: plate.id }, query: { out } },
        }),
      ),
    // Said before the list is asked again: without the plate on it, this button is gone.
    onSuccess: (_, out) => {
      if (out) {
        say({ text: `“${plate.name}” is used up.`, undo: () => sent.mutate(false) });
        onGone();
      }
      return queries.invalidateQueries({ queryKey: ['plates'] });
    },
  });
  return (
    <Button variant="text" onClick={() => sent.mutate(true)}>
      This scrap is used up
    </Button>
  );
}

const SIDES = ['x_mm', 'y_mm', 'width_mm', 'height_mm'] as const;
const SIDE_WORDS = { x_mm: 'From the left', y_mm: 'From near', width_mm: 'Wide', height_mm: 'Deep' };

/** A clamp, a wet slat, an old cut: pieces keep off it. */
function NoGo({ plate, tableId, units }: { plate: Plate; tableId: number; units: ShopUnits }) {
  const [what, setWhat] = useState('');
  const [zone, setZone] = useState<Partial<Record<(typeof SIDES)[number], number | null>>>({});
  const queries = useQueryClient();
  const take = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/plates/{plate_id}/zones', {
          params: { path: { plate_id: plate.id } },
          body: {
            what,
            x_mm: zone.x_mm ?? 0,
            y_mm: zone.y_mm ?? 0,
            width_mm: zone.width_mm ?? 0,
            height_mm: zone.height_mm ?? 0,
          },
        }),
      ),
    onSuccess: async () => {
      setWhat('');
      await queries.invalidateQueries({ queryKey: platesQuery(tableId).queryKey });
      await queries.invalidateQueries({ queryKey: ['piece'] });
    },
  });
  const missing = SIDES.some((s) => zone[s] === null || zone[s] === undefined);
  return (
    <details className={styles.noGo}>
      <summary>Keep off a part of it</summary>
      <TextField
        label="What is there"
        value={what}
        most={200}
        onType={setWhat}
        placeholder="a clamp, a wet slat, an old cut"
      />
      <div className={styles.plate}>
        {SIDES.map((s) => (
          <QuantityField
            key={s}
            label={SIDE_WORDS[s]}
            quantity="length"
            unit={units.length_unit === 'thou' ? 'in' : units.length_unit}
            onRead={(v) => setZone((before) => ({ ...before, [s]: v }))}
          />
        ))}
      </div>
      <SaveButton
        variant="outlined"
        disabled={missing || !what.trim() || take.isPending}
        onClick={() => take.mutate()}
      >
        Keep off
      </SaveButton>
      {take.isError && <Notice kind="refusal">{refusalText(take.error)}</Notice>}
    </details>
  );
}

function NewPlate({
  tableId,
  units,
  onAdded,
}: {
  tableId: number;
  units: ShopUnits;
  onAdded: (id: number) => void;
}) {
  const [name, setName] = useState('');
  const [width, setWidth] = useState<number | null>(null);
  const [height, setHeight] = useState<number | null>(null);
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/plates', {
          params: { path: { table_id: tableId } },
          body: { name, width_mm: width ?? 0, height_mm: height ?? 0, margin_mm: 0 },
        }),
      ),
    onSuccess: async (added) => {
      await queries.invalidateQueries({ queryKey: platesQuery(tableId).queryKey });
      onAdded(added.id);
    },
  });
  const unit = units.length_unit === 'thou' ? 'in' : units.length_unit;
  return (
    <div className={styles.newPlate}>
      <TextField
        label="What you call it"
        value={name}
        most={120}
        onType={setName}
        placeholder="offcut from the gates"
      />
      <div className={styles.plate}>
        <QuantityField label="Along X" quantity="length" unit={unit} onRead={setWidth} />
        <QuantityField label="Along Y" quantity="length" unit={unit} onRead={setHeight} />
      </div>
      <SaveButton
        variant="outlined"
        disabled={!name.trim() || width === null || height === null || add.isPending}
        onClick={() => add.mutate()}
      >
        Keep this scrap
      </SaveButton>
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
    </div>
  );
}
