import { DROSS_EFFORT } from '../kit/words.gen';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { showThickness, type ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import styles from './choose.module.css';

type Written = Schema['SetNoteRequest'];

const GRADES = DROSS_EFFORT.map((label, value) => ({ value, label }));

const LOOKS = {
  colour: ['grey', 'silver', 'gold', 'black'],
  rounding: ['none', 'slight', 'marked'],
} as const;

/** What a set's manual says it can do, and what edge it claims: trials replace the claim as they come. */
export function NoteDialog({
  option,
  units,
  onClose,
}: {
  option: Schema['ChooseOption'];
  units: ShopUnits;
  onClose: () => void;
}) {
  const [written, setWritten] = useState<Written>({
    ...option.written,
    source: option.example ? '' : option.written.source,
  });
  const [cost, setCost] = useState(option.parts_cost);
  const [starts, setStarts] = useState(option.parts_starts);
  const queries = useQueryClient();
  const say = useSay();
  const set = (some: Partial<Written>) => setWritten((before) => ({ ...before, ...some }));
  const path = { torch_set_id: option.torch_set_id };
  const save = useMutation({
    mutationFn: async () => {
      await answered(
        api.PUT('/api/torch-sets/{torch_set_id}/note', { params: { path }, body: written }),
      );
      await answered(
        api.PUT('/api/torch-sets/{torch_set_id}/cost', {
          params: { path },
          body: { parts_cost: cost, parts_starts: starts === null ? null : Math.round(starts) },
        }),
      );
    },
    onSuccess: async () => {
      await queries.invalidateQueries();
      say({ text: `Written down for the ${option.torch_set}.` });
      onClose();
    },
  });
  const length = units.length_unit === 'thou' ? 'in' : units.length_unit;
  const bound = (name: 'pierce_max_mm' | 'edge_start_max_mm' | 'sever_max_mm' | 'least_mm') => {
    const now = option.written[name] ?? null;
    return {
      quantity: 'length' as const,
      means: 'thickness' as const,
      unit: length,
      initial: now === null ? '' : showThickness(now, { ...units, length_unit: length }).text,
      onRead: (v: number | null) => set({ [name]: v }),
    };
  };
  return (
    <Dialog open fullWidth maxWidth="md" onClose={onClose} aria-labelledby="note-title">
      <DialogTitle id="note-title">
        {option.torch_set} on {option.gas}: what its manual says
      </DialogTitle>
      <DialogContent>
        <div className={styles.note}>
          <QuantityField label="Pierces up to" {...bound('pierce_max_mm')} />
          <QuantityField label="Edge start up to" {...bound('edge_start_max_mm')} />
          <QuantityField label="Severs up to" {...bound('sever_max_mm')} />
          <QuantityField label="Makes sense from" {...bound('least_mm')} />
          <NumberField
            label="Bevel it claims"
            after="°"
            value={written.bevel_deg ?? null}
            onType={(bevel_deg) => set({ bevel_deg })}
          />
          <NumberField
            label="A set of parts costs"
            value={cost}
            onType={setCost}
            help="in the shop’s money"
          />
          <NumberField
            label="and lasts, in starts"
            value={starts}
            onType={setStarts}
            help="as they last here"
          />
        </div>
        <div className={styles.looks}>
          <Claimed written={written} set={set} />
          <TextField
            label="Where it comes from"
            value={written.source}
            most={200}
            placeholder="manual and page"
            onType={(source) => set({ source })}
          />
          {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
        </div>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Leave it
        </Button>
        <SaveButton disabled={save.isPending} onClick={() => save.mutate()}>
          Write it down
        </SaveButton>
      </DialogActions>
    </Dialog>
  );
}

interface ClaimedProps {
  written: Written;
  set: (some: Partial<Written>) => void;
}

/** The edge that the manual claims. */
function Claimed({ written, set }: ClaimedProps) {
  return (
    <>
      <Choices
        label="Dross underneath, claimed"
        value={written.bottom_dross_grade ?? null}
        choices={GRADES}
        onChoose={(bottom_dross_grade) => set({ bottom_dross_grade })}
      />
      <Choices
        label="Dross on top, claimed"
        value={written.top_dross_grade ?? null}
        choices={GRADES}
        onChoose={(top_dross_grade) => set({ top_dross_grade })}
      />
      <Choices
        label="Edge colour"
        value={written.colour ?? null}
        choices={LOOKS.colour.map((c) => ({ value: c, label: c }))}
        onChoose={(colour) => set({ colour })}
      />
      <Choices
        label="Rounding of the top edge"
        value={written.rounding ?? null}
        choices={LOOKS.rounding.map((c) => ({ value: c, label: c }))}
        onChoose={(rounding) => set({ rounding })}
      />
    </>
  );
}
