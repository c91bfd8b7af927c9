import Button from '@mui/material/Button';
import Portal from '@mui/material/Portal';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useContext, useMemo, useState, type ReactNode } from 'react';

interface Said {
  text: string;
  undo?: (() => void) | undefined;
}

/** How long what is said stands before the next touch elsewhere puts it away. */
const READ_MS = 9000;

/** Above the foot of the page, clear of the doors at its left. */
const BESIDE_THE_RAIL = { left: { xs: 72, sm: 96 }, right: { xs: 8, sm: 'auto' } };

const Context = createContext<(said: Said) => void>(() => undefined);

/**
 * Says what was done, with a way back where there is one: in place of "are you sure?".
 *
 * A way back never runs out by itself: somebody in gloves who looked away still finds it, and it goes
 * with the first touch elsewhere after it could be read.
 */
export function Undoable({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<(Said & { number: number; at: number }) | null>(null);
  const say = useMemo(() => {
    let number = 0;
    return (next: Said) => setSaid({ ...next, number: ++number, at: Date.now() });
  }, []);
  return (
    <Context value={say}>
      {children}
      {/* In a portal of its own, anew for each, opened after any dialog: what is said must not be hidden behind it. */}
      {said !== null && (
        <Portal key={said.number}>
          <Snackbar
            open
            autoHideDuration={said.undo ? null : READ_MS}
            onClose={(_, reason) => {
              if (reason !== 'clickaway' || Date.now() - said.at > READ_MS) setSaid(null);
            }}
            message={said.text}
            action={
              said.undo && (
                <>
                  <Button
                    color="inherit"
                    sx={{ color: 'inherit', minHeight: 48 }}
                    onClick={() => {
                      said.undo?.();
                      setSaid(null);
                    }}
                  >
                    Undo
                  </Button>
                  <Button
                    color="inherit"
                    aria-label="Put this away"
                    sx={{ color: 'inherit', minHeight: 48, minWidth: 48 }}
                    onClick={() => setSaid(null)}
                  >
                    ✕
                  </Button>
                </>
              )
            }
            sx={BESIDE_THE_RAIL}
            slotProps={{
              content: { sx: { fontSize: 16, background: 'var(--ink)', color: 'var(--ground)' } },
            }}
          />
        </Portal>
      )}
    </Context>
  );
}

export const useSay = () => useContext(Context);
