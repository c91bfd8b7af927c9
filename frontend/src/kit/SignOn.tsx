import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { answered, ofShop, type Schema } from './client';
import { whenAskedToSignOn } from './askToSignOn';
import { Notice, refusalText } from './Notice';
import styles from './kit.module.css';

const DIGITS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '', '0'] as const;

/** On a device of the network: who is signed on, and signing on with a name and a PIN. */
export function SignOn({ door }: { door: Schema['DoorAnswer'] }) {
  const [open, setOpen] = useState(false);
  const [personId, setPersonId] = useState<number | null>(null);
  const [pin, setPin] = useState('');
  const queries = useQueryClient();
  useEffect(() => whenAskedToSignOn(() => setOpen(true)), []);
  const close = () => {
    setOpen(false);
    setPin('');
    setPersonId(null);
  };
  const on = useMutation({
    mutationFn: () =>
      answered(ofShop.POST('/api/door/sign-on', { body: { person_id: personId ?? 0, pin } })),
    onSuccess: async () => {
      close();
      await queries.invalidateQueries();
    },
    onError: () => setPin(''),
  });
  const off = useMutation({
    mutationFn: () => answered(ofShop.POST('/api/door/sign-off')),
    onSuccess: async () => {
      close();
      await queries.invalidateQueries();
    },
  });
  return (
    <>
      <button type="button" onClick={() => setOpen(true)}>
        {door.person ?? 'Sign on'}
      </button>
      <Dialog
        open={open}
        onClose={close}
        aria-labelledby="sign-on"
        onKeyDown={(e) => {
          e.stopPropagation(); // the log behind it listens for digits too
          if (/^\d$/.test(e.key) && personId !== null) setPin((was) => (was + e.key).slice(0, 8));
          if (e.key === 'Backspace') setPin('');
        }}
      >
        <DialogTitle id="sign-on">
          {door.person ? `${door.person} is signed on` : 'Who is it?'}
        </DialogTitle>
        <DialogContent className={styles.signOn}>
          {door.people.length === 0 && (
            <p>Nobody is known yet: on the machine that serves Orthotome, open Shop and add people.</p>
          )}
          <div className={styles.names} role="group" aria-label="Name">
            {door.people.map((p) => (
              <button
                key={p.id}
                type="button"
                aria-pressed={personId === p.id}
                onClick={() => setPersonId(p.id)}
              >
                {p.name}
              </button>
            ))}
          </div>
          {personId !== null && (
            <>
              <p className={styles.pin} aria-label={`PIN, ${pin.length} digits typed`}>
                {'●'.repeat(pin.length) || 'PIN'}
              </p>
              <div className={styles.pad}>
                {DIGITS.map((d) =>
                  d ? (
                    <button key={d} type="button" onClick={() => setPin((was) => (was + d).slice(0, 8))}>
                      {d}
                    </button>
                  ) : (
                    <span key="none" />
                  ),
                )}
                <button type="button" onClick={() => setPin('')} aria-label="Erase the PIN">
                  ⌫
                </button>
              </div>
            </>
          )}
          {on.isError && <Notice kind="refusal">{refusalText(on.error)}</Notice>}
        </DialogContent>
        <DialogActions>
          {door.person && (
            <Button disabled={off.isPending} onClick={() => off.mutate()}>
              Sign off
            </Button>
          )}
          <Button onClick={close}>Leave it</Button>
          <Button
            variant="contained"
            disabled={personId === null || pin.length < 4 || on.isPending}
            onClick={() => on.mutate()}
          >
            Sign on
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
