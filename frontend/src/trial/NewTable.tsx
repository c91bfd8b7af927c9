import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { shopQuery } from '../kit/queries';
import { Notice, refusalText } from '../kit/Notice';
import kit from '../kit/kit.module.css';

const SHOP_UNITS = [
  { label: 'millimetres', units: { length_unit: 'mm', speed_unit: 'mm/min' } },
  { label: 'inches', units: { length_unit: 'in', speed_unit: 'in/min' } },
] as const;

/** The shop's first table: a name is enough to begin. */
export function NewTable() {
  const [name, setName] = useState('');
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(api.POST('/api/tables', { body: { name, bed: 'open', torch_set_id: null } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['tables'] }),
  });
  const shop = useQuery(shopQuery);
  const speak = useMutation({
    mutationFn: (units: (typeof SHOP_UNITS)[number]['units']) =>
      answered(api.PATCH('/api/shop', { body: units })),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <div className={kit.named}>
      <Choices
        label="The shop thinks in"
        value={shop.data?.length_unit ?? null}
        choices={SHOP_UNITS.map((u) => ({ value: u.units.length_unit, label: u.label }))}
        onChoose={(value) => {
          const chosen = SHOP_UNITS.find((u) => u.units.length_unit === value);
          if (chosen) speak.mutate(chosen.units);
        }}
      />
      <label>
        Name your table
        <input value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
      </label>
      <Button variant="outlined" disabled={name.trim() === ''} onClick={() => add.mutate()}>
        Add the table
      </Button>
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
    </div>
  );
}
