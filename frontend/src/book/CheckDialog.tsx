import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Choices } from '../kit/Choices';
import { answered, api, type Recipe } from '../kit/client';
import { NumberField } from '../kit/NumberField';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { DROSS_EFFORT } from '../kit/words.gen';
import type { ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import styles from './watching.module.css';

/** One square, or one edge of a part, read against a recipe: whatever was read, nothing has to be. */
export function CheckDialog(p: { recipe: Recipe; units: ShopUnits; onClose: () => void }) {
  const [key] = useState(() => crypto.randomUUID());
  const [bevel, setBevel] = useState<number | null>(null);
  const [volts, setVolts] = useState<number | null>(null);
  const [held, setHeld] = useState(true);
  const [kerf, setKerf] = useState<number | null>(null);
  const [dross, setDross] = useState<number | null>(null);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/recipes/{recipe_id}/spot-checks', {
          params: { path: { recipe_id: p.recipe.id } },
          body: {
            key,
            bevel_deg: bevel,
            u_deg: null,
            arc_voltage_v: volts,
            height_held: held,
            kerf_mm: kerf,
            dross_grade: dross,
            note: '',
          },
        }),
      ),
    onSuccess: async () => {
      p.onClose();
      await queries.invalidateQueries();
    },
  });
  const nothing = bevel === null && volts === null && kerf === null && dross === null;
  return (
    <Dialog open onClose={p.onClose} aria-labelledby="check" fullWidth maxWidth="sm">
      <DialogTitle id="check">Read a piece against revision {p.recipe.revision}</DialogTitle>
      <DialogContent className={styles.check}>
        <p>A square, or one edge of a part cut at this recipe. Leave out what you did not read.</p>
        <NumberField
          label="The edge farthest from square"
          value={bevel}
          after="degrees"
          onType={setBevel}
          help="Plus: the bottom sticks out."
        />
        <NumberField label="Arc voltage, steady" value={volts} after="V" onType={setVolts} />
        <Choices
          label="While it was read, the height was"
          value={held ? 'held' : 'set'}
          onChoose={(v) => setHeld(v === 'held')}
          choices={[
            { value: 'held', label: 'held by the volts' },
            { value: 'set', label: 'set, control off' },
          ]}
        />
        <QuantityField label="Kerf" quantity="length" unit={p.units.length_unit} onRead={setKerf} />
        <Choices
          label="Dross underneath"
          value={dross}
          onChoose={setDross}
          choices={DROSS_EFFORT.map((word, value) => ({ value, label: word }))}
        />
        {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
      </DialogContent>
      <DialogActions>
        <Button onClick={p.onClose}>Leave it</Button>
        <SaveButton disabled={nothing || save.isPending} onClick={() => save.mutate()}>
          Note it
        </SaveButton>
      </DialogActions>
    </Dialog>
  );
}
