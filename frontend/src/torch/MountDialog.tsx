import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { showLength, type ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import type { Axis, Torch } from './queries';
import styles from './alignment.module.css';

/** What an operator sees a screw do, and the axis that does it (by the azimuth it points to). */
const TILTS = [
  { name: 'side tilt', about_deg: 90, says: 'Tilts left and right' },
  { name: 'fore-and-aft tilt', about_deg: 0, says: 'Tilts toward you and away' },
] as const;

const ITSELF = [
  { value: 'no', label: 'No' },
  { value: 'yes', label: 'Yes' },
] as const;

interface Props {
  tableId: number;
  torch: Torch;
  units: ShopUnits;
  onClose: () => void;
}

/** How this torch can be turned: said once a table. */
export function MountDialog({ tableId, torch, units, onClose }: Props) {
  const [axes, setAxes] = useState<readonly Axis[]>(torch.mount.axes);
  const [itself, setItself] = useState(torch.mount.turns_about_itself);
  const [target, setTarget] = useState<number | null>(torch.target_deg);
  const queries = useQueryClient();
  const change = (i: number, to: Partial<Axis>) =>
    setAxes(axes.map((a, k) => (k === i ? { ...a, ...to } : a)));
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT('/api/tables/{table_id}/mount', {
          params: { path: { table_id: tableId } },
          body: {
            mount: { axes: [...axes], turns_about_itself: itself },
            target_deg: target ?? torch.target_deg,
          },
        }),
      ),
    onSuccess: () => {
      onClose();
      return queries.invalidateQueries({ queryKey: ['torch', tableId] });
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="md"
      fullWidth
      aria-labelledby="mount"
      transitionDuration={0}
    >
      <div className={styles.mount}>
        <h1 id="mount">How this torch can be turned</h1>
        {axes.map((axis, i) => (
          <fieldset key={i} className={styles.axis}>
            <legend>{axis.name}</legend>
            <TextField
              most={60}
              label="Called"
              value={axis.name}
              onType={(name) => change(i, { name })}
            />
            <NumberField
              label="Its axis points toward"
              value={axis.about_deg}
              after="°"
              onType={(v) => v !== null && change(i, { about_deg: v })}
              help="0 to the right, 90 away from you"
            />
            <QuantityField
              label="Its adjuster moves, for one degree"
              quantity="length"
              unit={units.length_unit}
              initial={axis.mm_per_deg ? showLength(axis.mm_per_deg, units).text : ''}
              onRead={(mm_per_deg) => change(i, { mm_per_deg })}
              help="may stay empty"
            />
            <Button variant="text" onClick={() => setAxes(axes.filter((_, k) => k !== i))}>
              Take it away
            </Button>
          </fieldset>
        ))}
        <div className={styles.acts}>
          {TILTS.filter((t) => !axes.some((a) => a.name === t.name)).map((t) => (
            <Button
              key={t.name}
              variant="outlined"
              onClick={() =>
                setAxes([...axes, { name: t.name, about_deg: t.about_deg, mm_per_deg: null }])
              }
            >
              {t.says}
            </Button>
          ))}
        </div>
        <div className={styles.asks}>
          <Choices
            label="Does the barrel also turn in its clamp?"
            value={itself ? 'yes' : 'no'}
            choices={ITSELF}
            onChoose={(v) => setItself(v === 'yes')}
          />
          <NumberField
            label="Upright within"
            value={target}
            after="°"
            onType={setTarget}
            help="half a degree suits plate"
          />
        </div>
        {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
        <div className={styles.acts}>
          <Button variant="outlined" onClick={onClose}>
            Leave it as it was
          </Button>
          <SaveButton
            disabled={save.isPending || target === null || axes.some((a) => !a.name.trim())}
            onClick={() => save.mutate()}
          >
            Save
          </SaveButton>
        </div>
      </div>
    </Dialog>
  );
}
