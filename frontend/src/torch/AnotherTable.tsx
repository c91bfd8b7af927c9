import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useSettings } from '../kit/settings';
import styles from './torch.module.css';

/** A shop's next table: a name is enough, and this screen then stands at it. */
export function AnotherTable({ onAdded }: { onAdded: () => void }) {
  const [name, setName] = useState('');
  const { setTableId } = useSettings();
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(api.POST('/api/tables', { body: { name, bed: 'open', torch_set_id: null } })),
    onSuccess: async (added) => {
      await queries.invalidateQueries({ queryKey: ['tables'] });
      setTableId(added.id);
      onAdded();
    },
  });
  return (
    <div className={styles.another}>
      <label>
        Another table
        <input
          value={name}
          maxLength={120}
          placeholder="as the shop calls it"
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <Button
        variant="outlined"
        disabled={name.trim() === '' || add.isPending}
        onClick={() => add.mutate()}
      >
        Add it
      </Button>
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
    </div>
  );
}
