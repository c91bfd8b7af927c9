import { DROSS_EFFORT } from '../kit/words.gen';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Trial } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { revisionQuery, shopQuery } from '../kit/queries';
import { showLength, showSpeed } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import { TargetChooser } from './TargetChooser';
import styles from './trial.module.css';

/** What square means, and the range to cut in: changed for the trial as it was when this was opened. */
export function TargetDialog({ trial, onClose }: { trial: Trial; onClose: () => void }) {
  const shop = useQuery(shopQuery);
  const queries = useQueryClient();
  const [opened] = useState(trial);
  const [target, setTarget] = useState(opened.target);
  const { speed_mm_min: speeds, cut_height_mm: heights } = opened.limits;
  const [speedLow, setSpeedLow] = useState<number | null>(speeds[0] ?? null);
  const [speedHigh, setSpeedHigh] = useState<number | null>(speeds[1] ?? null);
  const [heightLow, setHeightLow] = useState<number | null>(heights[0] ?? null);
  const [heightHigh, setHeightHigh] = useState<number | null>(heights[1] ?? null);
  const known = [speedLow, speedHigh, heightLow, heightHigh].every((v) => v !== null);
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT('/api/trials/{trial_id}/target', {
          params: { path: { trial_id: opened.id } },
          body: {
            revision: opened.revision,
            target,
            limits: {
              speed_mm_min: [speedLow ?? 0, speedHigh ?? 0],
              cut_height_mm: [heightLow ?? 0, heightHigh ?? 0],
            },
          },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: revisionQuery(opened.id).queryKey });
      onClose();
    },
  });
  if (!shop.data) return null;
  const units = shop.data;
  const speed = (i: number) => ({
    quantity: 'speed' as const,
    means: 'cut_speed' as const,
    unit: units.speed_unit,
    initial: showSpeed(speeds[i] ?? 0, units).text,
  });
  const height = (i: number) => ({
    quantity: 'length' as const,
    means: 'cut_height' as const,
    unit: units.length_unit,
    initial: showLength(heights[i] ?? 0, units).text,
  });
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="target-title">
      <DialogTitle id="target-title">Target and limits</DialogTitle>
      <DialogContent>
        <div className={styles.targetDialog}>
          <div>
            <TargetChooser
              thickness={opened.thickness_mm}
              target={target}
              onChange={setTarget}
              effort={DROSS_EFFORT}
            />
          </div>
          <div>
            <h2>Never cut outside</h2>
            <QuantityField label="Slowest" {...speed(0)} onRead={setSpeedLow} />
            <QuantityField label="Fastest" {...speed(1)} onRead={setSpeedHigh} />
            <QuantityField
              label="Lowest"
              {...height(0)}
              onRead={setHeightLow}
              help="keep above the touch-risk height of your parts"
            />
            <QuantityField label="Highest" {...height(1)} onRead={setHeightHigh} />
            {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
          </div>
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave as it is</Button>
        <SaveButton disabled={!known || save.isPending} onClick={() => save.mutate()}>
          Change
        </SaveButton>
      </DialogActions>
    </Dialog>
  );
}
