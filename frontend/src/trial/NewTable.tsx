import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './trial.module.css';

/** The shop's first table: a name is enough to begin. */
export function NewTable() {
  const [name, setName] = useState('');
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(api.POST('/api/tables', { body: { name, bed: 'open', torch_set_id: null } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['tables'] }),
  });
  return (
    <div className={styles.name}>
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
