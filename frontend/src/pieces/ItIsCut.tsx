import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import type { Asked } from './asked';

/** Remembers what was cut: its place on the plate is taken, and squares wait on the Bench to be read. */
export function ItIsCut({
  trialId,
  asked,
  onNoted,
}: {
  trialId: number;
  asked: Asked;
  onNoted: () => void;
}) {
  const queries = useQueryClient();
  const say = useSay();
  const refresh = async () => {
    await queries.invalidateQueries({ queryKey: ['plates'] });
    await queries.invalidateQueries({ queryKey: ['piece'] });
    await queries.invalidateQueries({ queryKey: revisionQuery(trialId).queryKey });
  };
  const cut = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/trials/{trial_id}/piece/cut', {
          params: { path: { trial_id: trialId } },
          body: asked,
        }),
      ),
    onSuccess: async (noted) => {
      say({
        text: 'Cut: turn it over and read it.',
        undo: () => {
          void Promise.all([
            ...noted.waiting.map((id) =>
              api.PUT('/api/planned-cuts/{planned_id}/struck', { params: { path: { planned_id: id } } }),
            ),
          ]).then(refresh);
        },
      });
      await refresh();
      onNoted();
    },
  });
  return (
    <>
      {cut.isError && <Notice kind="refusal">{refusalText(cut.error)}</Notice>}
      <Button variant="contained" disabled={cut.isPending} onClick={() => cut.mutate()}>
        {asked.count > 1 ? 'They are cut: read them next' : 'It is cut'}
      </Button>
    </>
  );
}
