import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type BookRow, Refusal } from '../kit/client';
import { Doubt } from '../kit/Doubt';
import { Notice, refusalText } from '../kit/Notice';
import { torchSetsQuery } from '../kit/queries';
import { useStillReading } from '../kit/reading';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import styles from './book.module.css';
import type { Sheet } from './queries';
import {
  type Given,
  initialText,
  missingOf,
  missingText,
  NOTHING_SAID,
  requestOf,
  type Said,
  wordsOf,
} from './row';
import { type FormProps, MainNumbers, MoreNumbers, OfWhat } from './RowFields';

interface Props {
  /** The page of the Book it belongs to; null lets metal and set be chosen. */
  of: Sheet | null;
  row: BookRow | null;
  units: ShopUnits;
  onClose: () => void;
}

/** Saving a row, with what was insisted on; a new number is asked about anew. */
function useSaveRow(row: BookRow | null, onSaved: () => void) {
  const queries = useQueryClient();
  const say = useSay();
  const [said, setSaid] = useState<Said>(NOTHING_SAID);
  const save = useMutation({
    mutationFn: (body: ReturnType<typeof requestOf>) => answered(api.POST('/api/book/rows', { body })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['rows'] });
      await queries.invalidateQueries({ queryKey: ['start'] });
      say({ text: row ? 'Corrected; the old row is kept behind it.' : 'The row is in the Book.' });
      onSaved();
    },
  });
  return { said, setSaid, save };
}

/** A row as a manual's page has it. A corrected row takes the old one's place, which is kept. */
export function RowDialog({ of, row, units, onClose }: Props) {
  const sets = useQuery(torchSetsQuery);
  const reading = useStillReading();
  const [words, setWords] = useState(() => wordsOf(of, row));
  const [given, setGiven] = useState<Given>(() => ({ ...(row ?? {}) }));
  const { said, setSaid, save } = useSaveRow(row, onClose);
  const setId = words.setId ?? sets.data?.[0]?.id ?? null;
  const send = (all: Said) => save.mutate(requestOf(given, { ...words, setId }, all, row));
  const insist = (more: Partial<Said>) => {
    setSaid({ ...said, ...more });
    send({ ...said, ...more });
  };
  const wanting = missingOf(given, words);
  const parts: FormProps = {
    words,
    units,
    onSay: (some) => setWords((before) => ({ ...before, ...some })),
    field: (name) => ({
      onRead: (value: number | null) => {
        setGiven((before) => ({ ...before, [name]: value }));
        // Another number is asked about anew.
        setSaid((before) => ({ ...before, insisted: before.insisted.filter((f) => f !== name) }));
      },
      initial: initialText(name, row, units),
    }),
  };
  return (
    <Dialog open fullWidth maxWidth="md" onClose={onClose} aria-labelledby="row-title">
      <DialogTitle id="row-title">
        {row ? 'Correct the row' : 'A row from a manual, or your own'}
      </DialogTitle>
      <DialogContent>
        <div className={styles.rowForm}>
          {of === null && <OfWhat {...parts} sets={sets.data} setId={setId} />}
          <MainNumbers {...parts} />
          <TextField
            label="Where it comes from"
            value={words.source}
            most={200}
            placeholder="manual and page, neighbour shop, own guess"
            onType={(source) => parts.onSay({ source })}
          />
          <MoreNumbers {...parts} />
          <Asked error={save.error} said={said} onInsist={insist} />
        </div>
      </DialogContent>
      <DialogActions>
        <p className={styles.stillMissing} role="status">
          {missingText(wanting, reading)}
        </p>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
        <Button
          variant="contained"
          disabled={reading || wanting.length > 0 || save.isPending}
          onClick={() => send(said)}
        >
          {row ? 'Correct it' : 'Into the Book'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface AskedProps {
  error: Error | null;
  said: Said;
  onInsist: (more: Partial<Said>) => void;
}

/** What is asked about a row before it is kept, and what is refused. */
function Asked({ error, said, onInsist }: AskedProps) {
  if (error === null) return null;
  if (error instanceof Refusal && error.doubted !== null)
    return <Doubt error={error} onInsist={(f) => onInsist({ insisted: [...said.insisted, f] })} />;
  return (
    <Notice kind="refusal">
      {refusalText(error)}
      {questions(error, 'amperage_a') && (
        <button
          type="button"
          className={styles.mend}
          onClick={() => onInsist({ amperage_is_right: true })}
        >
          It is right: keep it
        </button>
      )}
      {questions(error, 'takes_its_place') && (
        <button
          type="button"
          className={styles.mend}
          onClick={() => onInsist({ takes_its_place: true })}
        >
          This one: the other is kept behind it
        </button>
      )}
    </Notice>
  );
}

/** Asked about, not refused: an amperage far below the rating, or which of two rows stands. */
const questions = (error: unknown, field: string): boolean =>
  error instanceof Refusal && error.status === 409 && error.fields.some((f) => f.field === field);
