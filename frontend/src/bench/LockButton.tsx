import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import type { Trial } from './model';

/** Locks the proven setting as a recipe and goes to it. */
export function LockButton({ trial }: { trial: Trial }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const lock = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/trials/{trial_id}/lock', {
          params: { path: { trial_id: trial.id } },
          body: { revision: trial.revision, title: trial.title },
        }),
      ),
    onSuccess: async (recipe) => {
      await queries.invalidateQueries();
      await navigate(`/book/recipes/${recipe.id}`);
    },
  });
  return (
    <>
      <Button variant="contained" fullWidth disabled={lock.isPending} onClick={() => lock.mutate()}>
        Lock the recipe
      </Button>
      {lock.isError && <Notice kind="refusal">{refusalText(lock.error)}</Notice>}
    </>
  );
}
