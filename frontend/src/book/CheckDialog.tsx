import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Choices } from '../kit/Choices';
import { answered, api, type Recipe } from '../kit/client';
import { Doubt } from '../kit/Doubt';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { DROSS_EFFORT } from '../kit/words.gen';
import type { ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import { useSay } from '../kit/undo';
import styles from './watching.module.css';

const EDGES = ['Edge cut first', 'Edge cut second', 'Edge cut third', 'Edge cut last'] as const;

type Read = 'edge' | 'square';

const GRADES = DROSS_EFFORT.map((label, value) => ({ value, label }));

/** One square, or one edge of a part, read against a recipe: whatever was read, nothing has to be. */
export function CheckDialog(p: { recipe: Recipe; units: ShopUnits; onClose: () => void }) {
  const { setting, under_control: control } = p.recipe.recipe;
  const [key] = useState(() => crypto.randomUUID());
  const [what, setWhat] = useState<Read>('edge');
  const [bevel, setBevel] = useState<number | null>(null);
  const [square, setSquare] = useState<(number | null)[]>(EDGES.map(() => null));
  const [volts, setVolts] = useState<number | null>(null);
  const [held, setHeld] = useState(control?.proven ?? false);
  const [kerf, setKerf] = useState<number | null>(null);
  const [dross, setDross] = useState<number | null>(null);
  const [right, setRight] = useState<string[]>([]);
  const queries = useQueryClient();
  const say = useSay();
  const edges = square.filter((b) => b !== null);
  const save = useMutation({
    mutationFn: (insisted: string[]) =>
      answered(
        api.POST('/api/recipes/{recipe_id}/spot-checks', {
          params: { path: { recipe_id: p.recipe.id } },
          body: {
            key,
            bevel_deg: what === 'edge' ? bevel : null,
            edges_deg: what === 'square' ? edges : [],
            u_deg: null,
            arc_voltage_v: volts,
            height_held: held,
            kerf_mm: kerf,
            dross_grade: dross,
            insisted,
            note: '',
          },
        }),
      ),
    onSuccess: async (watch) => {
      say({ text: `Noted: ${watch.state_word}.` });
      p.onClose();
      await queries.invalidateQueries();
    },
  });
  const read = what === 'edge' ? bevel !== null : edges.length > 0;
  const nothing = !read && volts === null && kerf === null && dross === null;
  const changed =
    <T,>(set: (to: T) => void) =>
    (to: T) => {
      set(to);
      setRight([]);
      save.reset();
    };
  return (
    <Dialog open onClose={p.onClose} aria-labelledby="check" fullWidth maxWidth="sm">
      <DialogTitle id="check">Read a piece against revision {p.recipe.revision}</DialogTitle>
      <DialogContent className={styles.check}>
        <p>Cut at this recipe. Leave out what you did not read.</p>
        <Choices
          label="What was read"
          value={what}
          onChoose={changed(setWhat)}
          choices={[
            { value: 'edge', label: 'one edge of a part' },
            { value: 'square', label: 'a whole square' },
          ]}
        />
        {what === 'edge' ? (
          <NumberField
            label="The edge farthest from square"
            value={bevel}
            after="degrees"
            onType={changed(setBevel)}
            help="Plus: the bottom sticks out."
          />
        ) : (
          <FourEdges read={square} onRead={changed(setSquare)} />
        )}
        <NumberField
          label="Arc voltage, steady"
          value={volts}
          after="V"
          onType={changed(setVolts)}
          help={setting.arc_voltage_v ? `Proven at ${setting.arc_voltage_v.toFixed(1)} V.` : ''}
        />
        <Choices
          label="While it was read, the height was"
          value={held ? 'held' : 'set'}
          onChoose={(v) => setHeld(v === 'held')}
          choices={[
            { value: 'held', label: 'held by the volts' },
            { value: 'set', label: 'set, control off' },
          ]}
        />
        <QuantityField
          label="Kerf"
          quantity="length"
          unit={p.units.length_unit}
          onRead={changed(setKerf)}
        />
        <Choices label="Dross underneath" value={dross} onChoose={setDross} choices={GRADES} />
        {save.isError && (
          <Doubt
            error={save.error}
            onInsist={(field) => {
              const all = [...right, field];
              setRight(all);
              save.mutate(all);
            }}
          />
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={p.onClose}>Leave it</Button>
        <SaveButton disabled={nothing || save.isPending} onClick={() => save.mutate(right)}>
          Note it
        </SaveButton>
      </DialogActions>
    </Dialog>
  );
}

interface FourEdgesProps {
  read: readonly (number | null)[];
  onRead: (read: (number | null)[]) => void;
}

/** The edges of a square, each as it is read. */
function FourEdges({ read, onRead }: FourEdgesProps) {
  return (
    <div className={styles.square}>
      {EDGES.map((label, i) => (
        <NumberField
          key={label}
          label={label}
          value={read[i] ?? null}
          after="degrees"
          onType={(to) => onRead(read.map((b, k) => (k === i ? to : b)))}
        />
      ))}
    </div>
  );
}
