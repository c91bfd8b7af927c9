import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { torchSetsQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { NewTorchSet } from './NewTorchSet';
import { AnotherTable } from './AnotherTable';
import { fitting, putAsideQuery, type Fit } from './queries';
import styles from './torch.module.css';

/** Changing what is fitted: one touch more. What was learned with the old is set apart from then on. */
export function FittedDialog({ table, onClose }: { table: Table; onClose: () => void }) {
  const sets = useQuery(torchSetsQuery);
  const aside = useQuery(putAsideQuery);
  const queries = useQueryClient();
  const [adding, setAdding] = useState(false);
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
  const parts = (some: Partial<Fit>): Fit => fitting({ kind: 'parts', instead_of: seen.parts, ...some });
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
                fit.mutate({ body: parts({}), said: 'New parts: their starts count from 0.' })
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
                body: fitting({ kind: 'mount', instead_of: seen.mount }),
                said: 'Torch re-seated: its lean is learned anew.',
              })
            }
          >
            Torch taken out and re-seated
          </Button>
        </div>
        <h3>Another set is fitted</h3>
        <div className={styles.acts}>
          {others.map((s) => {
            const ready = aside.data?.find((r) => r.torch_set_id === s.id);
            return (
              <div key={s.id} className={styles.other}>
                {ready && (
                  <Button
                    variant="contained"
                    disabled={fit.isPending}
                    onClick={() =>
                      fit.mutate({
                        body: parts({ torch_set_id: s.id, again: true }),
                        said: `${s.name} fitted again, at ${ready.starts} starts.`,
                      })
                    }
                  >
                    {s.name}, as it came off: {ready.starts} starts
                  </Button>
                )}
                <Button
                  variant="outlined"
                  disabled={fit.isPending}
                  onClick={() =>
                    fit.mutate({
                      body: parts({ torch_set_id: s.id }),
                      said: `${s.name} fitted: its starts count from 0.`,
                    })
                  }
                >
                  {ready ? `${s.name}, new parts` : s.name}
                </Button>
              </div>
            );
          })}
        </div>
        {adding ? (
          <NewTorchSet onAdded={() => setAdding(false)} />
        ) : (
          <Button variant="text" onClick={() => setAdding(true)}>
            A set that is not listed
          </Button>
        )}
        {fit.isError && <Notice kind="refusal">{refusalText(fit.error)}</Notice>}
        <AnotherTable onAdded={onClose} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
      </DialogActions>
    </Dialog>
  );
}
