import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { answered, api } from '../kit/client';
import { heightQuery } from '../height/queries';
import { Notice, refusalText } from '../kit/Notice';
import { revisionQuery, useUnits } from '../kit/queries';
import { useSettings } from '../kit/settings';
import { SettingFigures } from '../kit/SettingFigures';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { chanceIn100 } from '../kit/units';
import styles from './bench.module.css';
import type { Bench } from './model';

interface Props {
  bench: Bench;
  onClose: () => void;
}

/** The trial goes on, for the fastest setting that passes. */
function useGoOn({ trial }: Bench, onDone: () => void) {
  const queries = useQueryClient();
  const say = useSay();
  return useMutation({
    mutationFn: () =>
      answered(
        api.PUT('/api/trials/{trial_id}/target', {
          params: { path: { trial_id: trial.id } },
          body: {
            revision: trial.revision,
            target: { ...trial.target, priority: 'fastest_in_tolerance' },
            limits: trial.limits,
          },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
      say({ text: 'The trial goes on for the fastest setting that passes.' });
      onDone();
    },
  });
}

/** What the recipe will hold and who answers for it; or on to something faster. */
export function LockDialog({ bench, onClose }: Props) {
  const { trial } = bench;
  const { person, setPerson } = useSettings();
  const units = useUnits();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const held = useQuery({
    queryKey: ['lock', trial.id, trial.revision, units.length_unit],
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/lock', { params: { path: { trial_id: trial.id } } })),
  });
  const told = useQuery(heightQuery(trial.id));
  const lock = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/trials/{trial_id}/lock', {
          params: { path: { trial_id: trial.id } },
          body: { revision: trial.revision, title: trial.title },
        }),
      ),
    onSuccess: async (recipe) => {
      // To the place of work first, also after the proof: later, whoever has gone on by then would be fetched back.
      onClose();
      void navigate('/bench');
      say({
        text: `Locked as revision ${recipe.revision}: it stands in the Book.`,
        undo: () =>
          void api
            .POST('/api/recipes/{recipe_id}/withdrawn', { params: { path: { recipe_id: recipe.id } } })
            .then(() => queries.invalidateQueries()),
      });
      await queries.invalidateQueries();
    },
  });
  const faster = useGoOn(bench, onClose);
  const wrong = held.error ?? lock.error ?? faster.error;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="lock-title">
      <div className={styles.lock}>
        <h1 id="lock-title">What the recipe will hold</h1>
        {held.data && (
          <>
            <p>
              {trial.plate} {trial.metal_label}, {trial.torch_set.name}, on the {trial.table}. Revision{' '}
              {held.data.revision}, {chanceIn100(held.data.probability_pass)} in 100 that the next one
              passes, by {held.data.passed} of {held.data.cuts} cuts.
            </p>
            <dl className={styles.lockNumbers}>
              <SettingFigures setting={held.data.setting} unread="not measured" units={units} />
            </dl>
            {told.data && told.data.control.proof !== 'no_control' && (
              <p>
                {told.data.control.proof === 'proven'
                  ? '■ Proven under height control too: what the control is told goes with it.'
                  : told.data.control.chosen
                    ? '□ Proven at a fixed height only; what the control would be told goes with it.'
                    : '□ Proven at a fixed height only: nothing is chosen yet for height control.'}
              </p>
            )}
            {held.data.doubts.map((doubt) => (
              <Notice key={doubt} kind="caution">
                {doubt}
              </Notice>
            ))}
            <TextField
              label="Locked by, who answers for it"
              value={person}
              most={40}
              onType={setPerson}
            />
          </>
        )}
        {wrong && <Notice kind="refusal">{refusalText(wrong)}</Notice>}
        <div className={styles.lockKeys}>
          <Button
            variant="contained"
            disabled={!held.data || lock.isPending}
            onClick={() => lock.mutate()}
          >
            Lock it
          </Button>
          {trial.target.priority !== 'fastest_in_tolerance' && (
            <Button variant="outlined" disabled={faster.isPending} onClick={() => faster.mutate()}>
              Go on for faster
            </Button>
          )}
          <Button variant="text" onClick={onClose}>
            Not yet
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
