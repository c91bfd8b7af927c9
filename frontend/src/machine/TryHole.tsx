import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import type { Of } from './CutWith';
import styles from './holes.module.css';
import { ReadWith, toolOf, useTools } from './ReadWith';

const YES_NO = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
] as const;

const BY_CALLIPER = [
  ['drawn_mm', 'Drawn'],
  ['top_mm', 'At the top'],
  ['bottom_mm', 'At the bottom'],
  ['other_mm', 'Across the first'],
] as const;
const BY_PINS = [
  ['drawn_mm', 'Drawn'],
  ['went_mm', 'Largest that went through'],
  ['stopped_mm', 'Smallest that did not'],
] as const;

type Sizes = Partial<Record<(typeof BY_CALLIPER | typeof BY_PINS)[number][0], number | null>>;

/** A hole that was cut, tried with a calliper or with bolts and pins. */
export function TryHole({ tableId, of, units }: { tableId: number; of: Of; units: ShopUnits }) {
  const tools = useTools().data ?? [];
  const [by, setBy] = useState<'calliper' | 'pins'>('calliper');
  const [tool, chooseTool] = useState<string | null>(null);
  const [sizes, setSizes] = useState<Sizes>({});
  const [fell, setFell] = useState<'yes' | 'no' | null>(null);
  const [flat, setFlat] = useState<'yes' | 'no' | null>(null);
  const [kept, setKept] = useState(0); // the fields begin anew after each
  const queries = useQueryClient();
  const say = useSay();
  const asked = by === 'calliper' ? BY_CALLIPER : BY_PINS;
  const keep = useMutation({
    mutationFn: (drawn_mm: number) => {
      const read = Object.fromEntries(asked.slice(1).map(([name]) => [name, sizes[name] ?? null]));
      const hole = {
        drawn_mm,
        ...read,
        u_mm: toolOf(tools, tool)?.u_mm ?? 0.1,
        fell: fell === null ? null : fell === 'yes',
        flat: flat === null ? null : flat === 'yes',
      };
      return answered(
        api.POST('/api/tables/{table_id}/holes', {
          params: { path: { table_id: tableId } },
          body: { ...of, hole },
        }),
      );
    },
    onSuccess: (done) => {
      setSizes({});
      setFell(null);
      setFlat(null);
      setKept((n) => n + 1);
      say({
        text: 'Kept: what to draw is worked out anew.',
        undo: () =>
          void answered(
            api.PUT('/api/tried-holes/{hole_id}/struck', { params: { path: { hole_id: done.id } } }),
          ).then(() => queries.invalidateQueries({ queryKey: ['holes'] })),
      });
      return queries.invalidateQueries({ queryKey: ['holes'] });
    },
  });
  const drawn = sizes.drawn_mm ?? null;
  return (
    <section aria-label="Try a hole" className={styles.try}>
      <h2>Try a hole</h2>
      <Choices
        label="Tried with"
        value={by}
        choices={[
          { value: 'calliper', label: 'a calliper' },
          { value: 'pins', label: 'bolts or pins' },
        ]}
        onChoose={setBy}
      />
      <div key={`${kept} ${by}`} className={styles.fields}>
        {asked.map(([name, label]) => (
          <QuantityField
            key={name}
            label={label}
            quantity="length"
            unit={units.length_unit}
            onRead={(v) => setSizes((s) => ({ ...s, [name]: v }))}
          />
        ))}
      </div>
      {by === 'calliper' && <ReadWith tools={tools} name={tool} units={units} onChoose={chooseTool} />}
      <div className={styles.looks}>
        <Choices label="Did its slug fall?" value={fell} choices={YES_NO} onChoose={setFell} />
        <Choices label="Flat at the lead-in?" value={flat} choices={YES_NO} onChoose={setFlat} />
      </div>
      <SaveButton
        disabled={drawn === null || keep.isPending}
        onClick={() => drawn !== null && keep.mutate(drawn)}
      >
        Keep this hole
      </SaveButton>
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
    </section>
  );
}
