import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { doorQuery } from './door';
import { SignOn } from './SignOn';
import { useSettings } from './settings';
import styles from './kit.module.css';

/** Who stands at this screen: kept with what is logged and locked here. */
export function WhoButton() {
  const door = useQuery(doorQuery);
  return door.data?.on_network ? <SignOn door={door.data} /> : <WhoStandsHere />;
}

function WhoStandsHere() {
  const { person, setPerson } = useSettings();
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" onClick={() => setOpen(true)}>
        {person || 'Who?'}
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="who">
        <DialogTitle id="who">Who stands here?</DialogTitle>
        <DialogContent>
          <div className={styles.field}>
            <label htmlFor="who-name">Name, kept with what is logged on this screen</label>
            <div className={styles.entry}>
              <input
                id="who-name"
                value={person}
                maxLength={40}
                onChange={(e) => setPerson(e.target.value)}
                autoComplete="off"
              />
            </div>
          </div>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Done</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
