import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import type { Bench } from './model';

/** What can be put right at the torch, and what it begins anew. */
const CURES: Record<string, { what: 'parts' | 'mount'; label: string }> = {
  jet_lean: { what: 'mount', label: 'The jet is set upright: go on' },
  worn_parts: { what: 'parts', label: 'The parts are changed: go on' },
};

/** After a hand-off: says that the cause is put right, so that a new series begins. */
export function PutRight({ bench }: { bench: Bench }) {
  const cure = CURES[bench.advice.hand_off?.code ?? ''];
  const queries = useQueryClient();
  const done = useMutation({
    mutationFn: (what: 'parts' | 'mount') =>
      answered(
        api.POST('/api/tables/{table_id}/put-right', {
          params: { path: { table_id: bench.trial.table_id } },
          body: { what },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (!cure) return null;
  return (
    <>
      <Button variant="contained" fullWidth onClick={() => done.mutate(cure.what)}>
        {cure.label}
      </Button>
      {done.isError && <Notice kind="refusal">{refusalText(done.error)}</Notice>}
    </>
  );
}
