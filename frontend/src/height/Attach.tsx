import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { TextField } from '../kit/TextField';
import styles from './live.module.css';
import { lineQuery, type Line } from './queries';

/** Where the table's line listens: anyone who writes the open protocol can attach a table. */
export function Attach({
  tableId,
  line,
  folded = false,
}: {
  tableId: number;
  line: Line;
  folded?: boolean;
}) {
  const [host, setHost] = useState(line.host || '127.0.0.1');
  const [port, setPort] = useState<number | null>(line.port || 8439);
  const queries = useQueryClient();
  const attach = useMutation({
    onSuccess: () => queries.invalidateQueries({ queryKey: lineQuery(tableId).queryKey }),
    mutationFn: (to: { host: string; port: number }) =>
      answered(
        api.PUT('/api/tables/{table_id}/line', { params: { path: { table_id: tableId } }, body: to }),
      ),
  });
  return (
    <details open={!folded}>
      <summary>Attach a table</summary>
      <p className={styles.soft}>
        A table that speaks orthotome.line (docs/formats) says its volts here as it cuts. Start a
        practice table anywhere with <code>orthotome sim</code>.
      </p>
      <div className={styles.address}>
        <TextField label="Machine" value={host} most={200} onType={setHost} />
        <NumberField label="Port" value={port} onType={setPort} />
      </div>
      <Button
        variant="contained"
        disabled={attach.isPending || port === null}
        onClick={() => attach.mutate({ host, port: port ?? 0 })}
      >
        Listen to it
      </Button>{' '}
      {line.port > 0 && (
        <Button variant="text" onClick={() => attach.mutate({ host: '', port: 0 })}>
          Let go
        </Button>
      )}
      {attach.isError && <Notice kind="refusal">{refusalText(attach.error)}</Notice>}
    </details>
  );
}
