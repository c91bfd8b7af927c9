import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema, type Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { torchSetsQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { AnotherTable } from './AnotherTable';
import styles from './torch.module.css';

type Fit = Schema['FitRequest'];

/** Changing what is fitted: one touch more. What was learned with the old is set apart from then on. */
export function FittedDialog({ table, onClose }: { table: Table; onClose: () => void }) {
  const sets = useQuery(torchSetsQuery);
  const queries = useQueryClient();
  // What this dialog showed: not what a screen beside it has noted meanwhile.
  const [seen] = useState({ parts: table.parts.id, mount: table.mount.id });
  const say = useSay();
  const takeBack = (id: number) =>
    void answered(
      api.DELETE('/api/fittings/{fitting_id}', { params: { path: { fitting_id: id } } }),
    ).then(() => queries.invalidateQueries());
  const fit = useMutation({
    mutationFn: ({ body }: { body: Fit; said: string }) =>
      answered(
        api.POST('/api/tables/{table_id}/fittings', {
          params: { path: { table_id: table.id } },
          body,
        }),
      ),
    onSuccess: (fitted, { said }) => {
      say({ text: said, undo: () => takeBack(fitted.id) });
      onClose();
      return queries.invalidateQueries();
    },
  });
  const parts = (torch_set_id: number | null): Fit => ({
    kind: 'parts',
    part: 'set',
    torch_set_id,
    starts: 0,
    instead_of: seen.parts,
  });
  const others = sets.data?.filter((s) => s.id !== table.torch_set?.id) ?? [];
  const since = new Date(table.parts.fitted_at).toLocaleDateString([], { dateStyle: 'medium' });
  return (
    <Dialog open onClose={onClose} aria-labelledby="fitted" fullWidth maxWidth="sm">
      <DialogTitle id="fitted">Fitted on the {table.name}</DialogTitle>
      <DialogContent className={styles.dialog}>
        <p>
          <strong>{table.torch_set?.name ?? 'No torch set noted'}</strong>
          {table.torch_set && `, ${table.parts.starts} arc starts since ${since}`}
          {table.parts.fitted_by && ` (${table.parts.fitted_by})`}. What was cut with other parts, or in
          another seat of the torch, is kept apart from what comes.
        </p>
        <Notice kind="caution" title="Before hands go near the torch">
          Power isolated at the source, as its manual says.
        </Notice>
        <div className={styles.acts}>
          {table.torch_set && (
            <Button
              variant="contained"
              disabled={fit.isPending}
              onClick={() =>
                fit.mutate({ body: parts(null), said: 'New parts: their starts count from 0.' })
              }
            >
              New parts of this set
            </Button>
          )}
          <Button
            variant="outlined"
            disabled={fit.isPending}
            onClick={() =>
              fit.mutate({
                body: {
                  kind: 'mount',
                  part: 'set',
                  torch_set_id: null,
                  starts: 0,
                  instead_of: seen.mount,
                },
                said: 'Torch re-seated: its lean is learned anew.',
              })
            }
          >
            Torch taken out and re-seated
          </Button>
        </div>
        <h3>Another set is fitted</h3>
        <div className={styles.acts}>
          {others.map((s) => (
            <Button
              key={s.id}
              variant="outlined"
              disabled={fit.isPending}
              onClick={() => fit.mutate({ body: parts(s.id), said: `${s.name} fitted.` })}
            >
              {s.name}
            </Button>
          ))}
        </div>
        {fit.isError && <Notice kind="refusal">{refusalText(fit.error)}</Notice>}
        <AnotherTable onAdded={onClose} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
      </DialogActions>
    </Dialog>
  );
}
