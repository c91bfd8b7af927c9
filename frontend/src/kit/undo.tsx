import Button from '@mui/material/Button';
import Portal from '@mui/material/Portal';
import Snackbar from '@mui/material/Snackbar';
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react';

interface Said {
  text: string;
  undo?: (() => void) | undefined;
}

const Context = createContext<(said: Said) => void>(() => undefined);

/** What is said has a strip of its own at the foot of the screen: the page, and any dialog, end above it. */
function makeRoom(strip: HTMLElement | null): (() => void) | undefined {
  const { style } = document.documentElement;
  if (!strip) return undefined;
  style.setProperty('--said-height', `${strip.offsetHeight}px`);
  return () => style.removeProperty('--said-height');
}

/** Says what was done, with a way back where there is one: in place of "are you sure?". */
export function Undoable({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<(Said & { number: number }) | null>(null);
  const say = useCallback(
    (next: Said) => setSaid((before) => ({ ...next, number: (before?.number ?? 0) + 1 })),
    [],
  );
  return (
    <Context value={say}>
      {children}
      {/* In a portal of its own, anew for each, opened after any dialog: what is said must not be hidden behind it. */}
      {said !== null && (
        <Portal key={said.number}>
          <Snackbar
            ref={makeRoom}
            open
            sx={{
              inset: 'auto 0 0 0 !important',
              transform: 'none',
              '& > *': { width: '100%', borderRadius: 0, flexWrap: 'nowrap' },
            }}
            autoHideDuration={9000}
            onClose={(_, reason) => {
              if (reason !== 'clickaway') setSaid(null);
            }}
            message={said.text}
            action={
              said.undo && (
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
              )
            }
            slotProps={{
              content: {
                sx: { fontSize: 'var(--text-plain)', background: 'var(--ink)', color: 'var(--ground)' },
              },
            }}
          />
        </Portal>
      )}
    </Context>
  );
}

export const useSay = () => useContext(Context);
