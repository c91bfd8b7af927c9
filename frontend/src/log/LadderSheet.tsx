import Dialog from '@mui/material/Dialog';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, Refusal, type Bench, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { keepToSend } from '../kit/outbox';
import { revisionQuery } from '../kit/queries';
import { showSpeed, type ShopUnits } from '../kit/units';
import styles from './log.module.css';

/** One answer a strip: enough to say where the clean window lies. Strips not looked at are left out. */
export function LadderSheet({
  bench,
  units,
  onClose,
}: {
  bench: Bench;
  units: ShopUnits;
  onClose: () => void;
}) {
  const speeds = bench.now.ladder.map((s) => s.speed_mm_min);
  const [seen, setSeen] = useState<Record<number, string>>({});
  const [volts, setVolts] = useState<Record<number, number | null>>({});
  const [key] = useState(() => crypto.randomUUID());
  // Volts alone say nothing of a strip: they are not dropped in silence, the strip is asked for.
  const unseen = speeds.flatMap((_, i) =>
    typeof volts[i] === 'number' && seen[i] === undefined ? [i + 1] : [],
  );
  const queries = useQueryClient();
  const save = useMutation({
    // All in one change: after a failure none is logged, and none twice.
    mutationFn: (body: Schema['LadderRequest']) =>
      answered(
        api.POST('/api/trials/{trial_id}/ladder', {
          params: { path: { trial_id: bench.trial.id } },
          body,
        }),
      ),
    onSuccess: onClose,
    onError: (error, body) => {
      if (!(error instanceof Refusal) || error.status !== 0) return;
      keepToSend({ of: 'ladder', key, trialId: bench.trial.id, body });
      onClose();
    },
    onSettled: () => queries.invalidateQueries({ queryKey: revisionQuery(bench.trial.id).queryKey }),
  });
  const looks = (): Schema['LadderRequest'] => ({
    key,
    strips: Object.entries(seen).map(([i, answer]) => ({
      slot: Number(i) + 1,
      answer,
      arc_voltage_v: volts[Number(i)] ?? null,
    })),
  });
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="ladder-title" transitionDuration={0}>
      <div className={styles.sheet}>
        <header>
          <h1 id="ladder-title">Turn the strips over</h1>
          <button type="button" onClick={onClose}>
            Later
          </button>
        </header>
        <ol className={styles.ladder}>
          {speeds.map((speed, i) => (
            <li key={speed}>
              <strong>
                Slot {i + 1}
                <small>
                  {showSpeed(speed, units).text} {units.speed_unit}
                </small>
              </strong>
              <NumberField
                label="Volts seen"
                after="V"
                value={volts[i] ?? null}
                onType={(v) => setVolts({ ...volts, [i]: v })}
              />
              <div className={styles.row} role="group" aria-label={`Slot ${i + 1}`}>
                {bench.log_sheet.strip_answers.map((a) => (
                  <button
                    key={a.value}
                    type="button"
                    aria-pressed={seen[i] === a.value}
                    onClick={() => setSeen({ ...seen, [i]: a.value })}
                  >
                    {a.label}
                    <small>{a.says}</small>
                  </button>
                ))}
              </div>
            </li>
          ))}
        </ol>
        {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
        <footer>
          <span>
            {unseen.length > 0
              ? `Slot ${unseen.join(', ')} has volts: say how it looks, or erase them.`
              : `${Object.keys(seen).length} of ${speeds.length} looked at`}
          </span>
          <button
            type="button"
            className={styles.save}
            disabled={Object.keys(seen).length === 0 || unseen.length > 0 || save.isPending}
            onClick={() => save.mutate(looks())}
          >
            Save the strips
          </button>
        </footer>
      </div>
    </Dialog>
  );
}
