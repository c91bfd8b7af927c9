import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { showAlong, unitOf, withUnit, type ShopUnits } from '../kit/units';
import Button from '@mui/material/Button';
import type { Schema } from '../kit/client';
import { SaveButton } from '../kit/SaveButton';
import styles from './piece.module.css';

type Settings = Schema['TablePage'];

interface Props {
  tableId: number;
  assumed: number;
  units: ShopUnits;
  onUnknown: () => void;
}

/** Asked before the first piece: how large it must be, and what can be judged on it, hangs on this number. */
export function AskAcceleration({ tableId, assumed, units, onUnknown }: Props) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState<number | null>(null);
  const keep = useMutation({
    mutationFn: (acceleration_mm_s2: number) =>
      answered(
        api.PATCH('/api/tables/{table_id}/settings', {
          params: { path: { table_id: tableId } },
          body: { settings: { acceleration_mm_s2 } as Settings, bed: null },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <section className={styles.ask} aria-label="The table's acceleration">
      <QuantityField
        label="How fast does this table pick up speed?"
        quantity="acceleration"
        means="acceleration"
        unit={unitOf('acceleration', units)}
        onRead={setTyped}
        help="Its controller’s page tells. The piece must be long enough to be at speed where it is read."
      />
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
      <div className={styles.askKeys}>
        <SaveButton
          disabled={typed === null || keep.isPending}
          onClick={() => typed !== null && keep.mutate(typed)}
        >
          Keep it with the table
        </SaveButton>
        <Button variant="outlined" onClick={onUnknown}>
          Not known: take {withUnit(showAlong('acceleration', assumed, units))}
        </Button>
      </div>
    </section>
  );
}
