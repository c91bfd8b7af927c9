import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { fitting, type Fit } from '../torch/queries';
import type { Bench } from './model';

/** After a hand-off: says that the cause is put right, so that a new series begins. */
export function PutRight({ bench }: { bench: Bench }) {
  const cure = bench.hand_off?.leads_to;
  const queries = useQueryClient();
  const done = useMutation({
    mutationFn: (what: Pick<Fit, 'kind' | 'part'>) =>
      answered(
        api.POST('/api/tables/{table_id}/fittings', {
          params: { path: { table_id: bench.trial.table_id } },
          body: fitting(what),
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (!cure) return null;
  return (
    <>
      <Button
        variant="contained"
        fullWidth
        onClick={() =>
          done.mutate({
            kind: cure.fills?.['kind'] === 'parts' ? 'parts' : 'mount',
            part: cure.fills?.['part'] === 'swirl_ring' ? 'swirl_ring' : 'set',
          })
        }
      >
        {cure.label}
      </Button>
      {done.isError && <Notice kind="refusal">{refusalText(done.error)}</Notice>}
    </>
  );
}
