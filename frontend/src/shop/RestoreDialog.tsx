import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import { when, type Backup } from './queries';
import styles from './shop.module.css';

/** Says what a restore takes away before it does: this is the one act that touches every record. */
export function RestoreDialog({ backup, onClose }: { backup: Backup; onClose: () => void }) {
  const queries = useQueryClient();
  const say = useSay();
  const path = { name: backup.name };
  const restore = useMutation({
    mutationFn: () => answered(api.POST('/api/backups/{name}/restored', { params: { path } })),
    onSuccess: async () => {
      onClose();
      say({ text: `The records of ${when(backup.made_at)} are back.` });
      await queries.resetQueries();
    },
  });
  return (
    <Dialog open onClose={onClose} aria-labelledby="restore" fullWidth maxWidth="sm">
      <DialogTitle id="restore">Back to {when(backup.made_at)}?</DialogTitle>
      <DialogContent className={styles.dialog}>
        <p>
          Every trial, cut, row and recipe becomes what it was then. What was logged since is no longer
          in the records.
        </p>
        <p>
          What is there now is backed up first, and can be restored in the same way. Devices of the
          network are paired again afterwards.
        </p>
        {restore.isError && <Notice kind="refusal">{refusalText(restore.error)}</Notice>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
        <Button variant="contained" disabled={restore.isPending} onClick={() => restore.mutate()}>
          {restore.isPending ? 'Restoring …' : 'Restore the records'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
