import { wayInWords } from '../kit/ways';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Bench, Cut } from '../kit/client';
import { answered, api } from '../kit/client';
import { CutThumb } from '../kit/CutThumb';
import { Notice, refusalText } from '../kit/Notice';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import { Photos } from '../log/Photos';
import { CutHistory } from './CutHistory';
import { lookName, lookText } from './ledger';
import styles from './trial.module.css';

/** A logged piece with every reading, what it says, its photos, and what stood there before it was corrected. */
export function CutEntry({
  cut,
  bench,
  units,
  onCorrect,
}: {
  cut: Cut;
  bench: Bench;
  units: ShopUnits;
  onCorrect: () => void;
}) {
  const { trial } = bench;
  const queries = useQueryClient();
  const say = useSay();
  const [open, setOpen] = useState<'photos' | 'history' | null>(null);
  const pierce = useMutation({
    mutationFn: (pierce_delay_s: number) =>
      answered(
        api.PUT('/api/trials/{trial_id}/pierce', {
          params: { path: { trial_id: trial.id } },
          body: { revision: trial.revision, pierce_delay_s },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
      say({ text: 'The pieces from now on pierce so long.' });
    },
  });
  const strike = useMutation({
    mutationFn: (given: { version: number; out: boolean }) =>
      answered(
        api.PUT('/api/trials/{trial_id}/cuts/{cut_id}/struck', {
          params: { path: { trial_id: trial.id, cut_id: cut.id } },
          body: given,
        }),
      ),
    onSuccess: async (changed) => {
      await queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
      say({
        text: changed.struck_out
          ? `Cut ${changed.number} is struck out of the evidence.`
          : `Cut ${changed.number} counts again.`,
        undo: () => strike.mutate({ version: changed.version, out: !changed.struck_out }),
      });
    },
  });
  return (
    <li id={`cut-${cut.number}`} data-struck={cut.struck_out} className={styles.cut}>
      <div>
        <CutThumb cut={cut} trial={trial} />
        <strong>
          {cut.kind === 'square' ? 'Cut' : cut.title} {cut.number} {cut.struck_out && '(struck out)'}
        </strong>
        <span className="soft">
          {new Date(cut.logged_at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
          {cut.logged_by && `, ${cut.logged_by}`}
        </span>
      </div>
      <Readings cut={cut} bench={bench} units={units} />
      {!trial.recipe_id && (
        <div className={styles.acts}>
          <Button variant="outlined" onClick={onCorrect}>
            Correct
          </Button>
          <Button variant="text" onClick={() => setOpen(open === 'photos' ? null : 'photos')}>
            Photos{cut.photos.length > 0 && ` (${cut.photos.length})`}
          </Button>
          <Button
            variant="text"
            onClick={() => strike.mutate({ version: cut.version, out: !cut.struck_out })}
          >
            {cut.struck_out ? 'Count it again' : 'Strike out'}
          </Button>
        </div>
      )}
      {cut.says.length > 0 && (
        <div className={styles.says}>
          {cut.says.map((s) => (
            <p key={s.sentence}>
              {s.sentence}{' '}
              {typeof s.pierce_delay_s === 'number' &&
                !trial.recipe_id &&
                s.pierce_delay_s !== trial.start.pierce_delay_s && (
                  <button type="button" onClick={() => pierce.mutate(s.pierce_delay_s ?? 0)}>
                    Pierce {s.pierce_delay_s} s from now on
                  </button>
                )}
            </p>
          ))}
          {pierce.isError && <Notice kind="refusal">{refusalText(pierce.error)}</Notice>}
        </div>
      )}
      {open === 'photos' && (
        <div className={styles.under}>
          <Photos trialId={trial.id} of={{ cut_id: cut.id }} units={units} />
        </div>
      )}
      {cut.version > 1 && (
        <div className={styles.under}>
          <button
            type="button"
            className={styles.quiet}
            aria-expanded={open === 'history'}
            onClick={() => setOpen(open === 'history' ? null : 'history')}
          >
            {open === 'history' ? 'Hide what it said before' : 'It was changed: what it said before'}
          </button>
          {open === 'history' && <CutHistory trialId={trial.id} cut={cut} />}
        </div>
      )}
      {strike.isError && <Notice kind="refusal">{refusalText(strike.error)}</Notice>}
    </li>
  );
}

function Reading({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}

/** Every reading of a piece, by name. */
function Readings({ cut, bench, units }: { cut: Cut; bench: Bench; units: ShopUnits }) {
  return (
    <dl className={styles.readings}>
      <Reading name="Speed" value={`${showSpeed(cut.speed_mm_min, units).text} ${units.speed_unit}`} />
      <Reading
        name="Height"
        value={`${showLength(cut.cut_height_mm, units).text} ${units.length_unit}`}
      />
      <Reading
        name="Volts"
        value={cut.arc_voltage_v ? `${cut.arc_voltage_v.toFixed(1)} V` : 'not read'}
      />
      <Reading
        name="Through"
        value={bench.log_sheet.through.find((t) => t.value === cut.through)?.label ?? 'not noted'}
      />
      <Reading name="Underside" value={cut.underside} />
      <Reading name="Worst kept" value={showDegrees(cut.worst_kept_deg)} />
      {cut.looks.map((k) => (
        <Reading key={`${k.item} ${k.what}`} name={lookName(cut, k)} value={lookText(k, units)} />
      ))}
      {cut.note && <Reading name="Note" value={cut.note} />}
      {cut.edges.map((e) => (
        <Reading
          key={e.id}
          name={`Cut ${wayInWords(e.heading_deg)}, ${e.side === 'both' ? 'mean of both' : e.side}`}
          value={`${showDegrees(e.bevel_deg)} ± ${(2 * e.u_deg).toFixed(1)}${e.told ? `, ${e.told}` : ''}`}
        />
      ))}
    </dl>
  );
}
