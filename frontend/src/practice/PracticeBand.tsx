import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Choices } from '../kit/Choices';
import { answered, ofShop, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './band.module.css';
import { counted, runHere, runQuery, type Run } from './queries';

type Claim = Schema['ClaimAnswer']['code'];

/** Over every page of the practice shop: which exercise, how far, and the way out. */
export function PracticeBand() {
  const id = runHere();
  return (
    <aside className={styles.band} aria-label="Practice">
      <strong className={styles.marked}>Practice</strong>
      {id === null ? <span>Nothing here is of a real table.</span> : <Going id={id} />}
      <a href="/practice">{id === null ? 'To the exercises' : 'Leave it for now'}</a>
    </aside>
  );
}

function Going({ id }: { id: number }) {
  const run = useQuery(runQuery(id));
  const [ending, setEnding] = useState(false);
  if (!run.data) return <span>{run.isError && refusalText(run.error)}</span>;
  const r = run.data;
  return (
    <>
      <span className={styles.task}>
        <b>{r.title}</b> {r.task}
      </span>
      <Pips run={r} />
      {r.ended ? (
        <Button href={`/practice/tables/${r.id}`} variant="contained">
          See the truth
        </Button>
      ) : (
        <Button variant="outlined" onClick={() => setEnding(true)}>
          Say how it ends
        </Button>
      )}
      {ending && <EndDialog run={r} onClose={() => setEnding(false)} />}
    </>
  );
}

/** Cuts made, of those that may be made: a mark each. */
function Pips({ run }: { run: Run }) {
  const marks = Math.max(run.most_cuts, run.cuts);
  return (
    <span className={styles.pips} data-over={run.cuts > run.most_cuts}>
      <span aria-hidden="true">
        {Array.from({ length: marks }, (_, i) => (
          <i key={i} data-cut={i < run.cuts} data-beyond={i >= run.most_cuts} />
        ))}
      </span>
      {run.cuts} of {counted(run, run.most_cuts)}
    </span>
  );
}

/** Ending it: what is said of the trial, then the truth. */
function EndDialog({ run, onClose }: { run: Run; onClose: () => void }) {
  const [claim, setClaim] = useState<Claim | null>(null);
  const end = useMutation({
    mutationFn: (said: Claim) =>
      answered(
        ofShop.POST('/api/practice/tables/{run_id}/ended', {
          params: { path: { run_id: run.id } },
          body: { claim: said },
        }),
      ),
    onSuccess: () => window.location.assign(`/practice/tables/${run.id}`),
  });
  return (
    <Dialog open onClose={onClose} aria-labelledby="ends" maxWidth="md">
      <DialogTitle id="ends">How does it end?</DialogTitle>
      <DialogContent className={styles.claims}>
        <Choices<Claim>
          label="What you would tell whoever waits for the parts"
          value={claim}
          choices={run.claims.map((c) => ({ value: c.code, label: c.words }))}
          onChoose={setClaim}
        />
        <p className="soft">Then the truth is shown, and this exercise is over.</p>
        {end.isError && <Notice kind="refusal">{refusalText(end.error)}</Notice>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Go on</Button>
        <Button
          variant="contained"
          disabled={claim === null || end.isPending}
          onClick={() => claim !== null && end.mutate(claim)}
        >
          Show me the truth
        </Button>
      </DialogActions>
    </Dialog>
  );
}
