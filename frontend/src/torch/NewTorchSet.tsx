import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { SaveButton } from '../kit/SaveButton';
import kit from '../kit/kit.module.css';

const SWIRLS = [
  { value: 'clockwise', label: 'clockwise (right side squarer)' },
  { value: 'counter_clockwise', label: 'counter-clockwise (left squarer)' },
] as const;

/** A torch set the shop has: its name, the amperage its nozzle is rated for, gas and swirl. */
export function NewTorchSet({ onAdded }: { onAdded: (id: number) => void }) {
  const [name, setName] = useState('');
  const [gas, setGas] = useState('air');
  const [amperage, setAmperage] = useState<number | null>(null);
  const [swirl, setSwirl] = useState<'clockwise' | 'counter_clockwise'>('clockwise');
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(api.POST('/api/torch-sets', { body: { name, gas, amperage_a: amperage ?? 0, swirl } })),
    onSuccess: async (added) => {
      await queries.invalidateQueries({ queryKey: ['torch-sets'] });
      onAdded(added.id);
    },
  });
  return (
    <div className={kit.named}>
      <label>
        Name of the torch set
        <input
          value={name}
          maxLength={120}
          onChange={(e) => setName(e.target.value)}
          placeholder="as your shop calls it"
        />
      </label>
      <QuantityField
        label="Amperage its nozzle is rated for"
        quantity="current"
        unit="A"
        onRead={setAmperage}
        help="on the nozzle, or in the manual"
      />
      <label>
        Gas
        <input value={gas} maxLength={60} onChange={(e) => setGas(e.target.value)} />
      </label>
      <Choices label="Swirl, seen from above" value={swirl} choices={SWIRLS} onChoose={setSwirl} />
      <SaveButton
        variant="outlined"
        disabled={name.trim() === '' || gas.trim() === '' || amperage === null}
        onClick={() => add.mutate()}
      >
        Add the torch set
      </SaveButton>
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
    </div>
  );
}
