import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import styles from './height.module.css';
import { heightQuery, type TrialHeight } from './queries';

const ORIGIN = {
  measured: 'measured here',
  computed: 'worked out',
  usual: 'usual',
  told: 'as told',
} as const;
const PROOF = {
  no_control: 'No height control',
  not_begun: 'Proven at a fixed height only',
  half: 'Half proven under control',
  failed: 'Not yet under control',
  proven: 'Proven under control',
} as const;

/** What to tell the control, each value with its reason; and how it is proven. */
export function UnderControl({ height }: { height: TrialHeight }) {
  const { control } = height;
  const keep = useKeepTrims(height);
  const tell = useTellOtherwise(height);
  return (
    <section className={styles.under} aria-labelledby="under">
      <h2 id="under">
        {control.chosen ? 'Tell the control' : 'What the control would be told'}{' '}
        <span className={styles.proof} data-state={control.proof}>
          {control.proof === 'proven' ? '✓ ' : ''}
          {PROOF[control.proof]}
        </span>
      </h2>
      <p>{control.proof_says}</p>
      {control.proof !== 'no_control' && (
        <>
          {control.otherwise.length > 0 && (
            <Notice kind="note" title="The recordings say otherwise">
              By the newest one it would be told {control.otherwise.join(', ')}.{' '}
              <Button variant="outlined" disabled={tell.isPending} onClick={() => tell.mutate()}>
                Tell it that
              </Button>
            </Notice>
          )}
          {tell.isError && <Notice kind="refusal">{refusalText(tell.error)}</Notice>}
          <dl className={styles.told}>
            {control.told.map((t) => (
              <div key={t.what}>
                <dt>{t.what}</dt>
                <dd>
                  <b className="number">{t.value}</b>
                  <span className={styles.origin}>{ORIGIN[t.origin]}</span>
                </dd>
                <dd className={styles.why}>{t.why}</dd>
              </div>
            ))}
          </dl>
          {control.trims_say && (
            <Notice kind="note" title="Trimmed while cutting">
              {control.trims_say}{' '}
              <Button variant="outlined" disabled={keep.isPending} onClick={() => keep.mutate()}>
                Keep it in the setting
              </Button>
            </Notice>
          )}
          {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
          {control.next_kind && (
            <p className={styles.next}>
              {control.chosen ? (
                <>
                  Next: {control.next_kind === 'long_strip' ? 'one long strip' : 'one small square'}{' '}
                  under control. <Link to="/bench">Its program is on the Bench</Link>, under “Program”;
                  cut it, and log it as cut under control.
                </>
              ) : (
                'Choose a school above first.'
              )}
            </p>
          )}
        </>
      )}
    </section>
  );
}

/** The set-point stays as it was chosen; the rest becomes what the recordings show. */
function useTellOtherwise(height: TrialHeight) {
  const { school, set_point_v, hold_holes } = height.control;
  return useTell(height, { school, set_point_v, hold_holes }, 'Told: it is in the setting.');
}

function useKeepTrims(height: TrialHeight) {
  const { control } = height;
  const body = {
    school: control.school,
    set_point_v: Math.round(10 * ((control.set_point_v ?? 0) + control.trims_v)) / 10,
    control_delay_s: control.control_delay_s,
    dead_band_v: control.dead_band_v,
    hold_below_share: control.hold_below_share,
    crossing_jump_v: control.crossing_jump_v,
    hold_holes: control.hold_holes,
  };
  return useTell(height, body, 'The trim is in the setting.');
}

function useTell(height: TrialHeight, body: Schema['ControlRequest'], text: string) {
  const queries = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: () =>
      answered(
        api.PUT('/api/trials/{trial_id}/control', {
          params: { path: { trial_id: height.trial_id } },
          body,
        }),
      ),
    onSuccess: (found) => {
      queries.setQueryData(heightQuery(height.trial_id).queryKey, found);
      say({ text });
    },
  });
}
