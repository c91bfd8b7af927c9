import { at } from '../kit/place';
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { FileButton } from '../kit/FileButton';
import { useSay } from '../kit/undo';
import styles from './piece.module.css';

const ownPartsQuery = queryOptions({
  queryKey: ['own-parts'],
  queryFn: () => answered(api.GET('/api/own-parts')),
});

type Unit = 'named' | 'mm' | 'in';

/** The shop's own test parts: choose one, or import its drawing. */
export function OwnParts({
  chosen,
  onChoose,
}: {
  chosen: number | null;
  onChoose: (id: number | null) => void;
}) {
  const parts = useQuery(ownPartsQuery);
  const queries = useQueryClient();
  const [unit, setUnit] = useState<Unit>('named');
  const part = parts.data?.find((p) => p.id === chosen);
  return (
    <div className={styles.own}>
      {parts.data && parts.data.length > 0 && (
        <Choices
          label="Your parts"
          value={chosen}
          choices={parts.data.map((p) => ({ value: p.id, label: p.name }))}
          onChoose={onChoose}
        />
      )}
      {part && <p>{part.notes.join(' ')}</p>}
      <Choices
        label="Unit of a drawing to import"
        value={unit}
        choices={[
          { value: 'named', label: 'the one it names' },
          { value: 'mm', label: 'mm' },
          { value: 'in', label: 'inch' },
        ]}
        onChoose={setUnit}
      />
      <FileButton
        label="Import a drawing"
        accept=".dxf,.svg,image/svg+xml,image/vnd.dxf"
        address={(file) => addressOf(file, unit)}
        onTaken={async ({ id }) => {
          await queries.invalidateQueries({ queryKey: ownPartsQuery.queryKey });
          onChoose(id);
        }}
      />
      {part && <TakeOff id={part.id} name={part.name} onGone={() => onChoose(null)} />}
    </div>
  );
}

function addressOf(file: string, unit: Unit): string {
  const name = file.replace(/\.[^.]*$/, '').slice(0, 120) || 'part';
  const said = new URLSearchParams(unit === 'named' ? { name } : { name, unit });
  return at(`/api/own-parts?${said.toString()}`);
}

function TakeOff({ id, name, onGone }: { id: number; name: string; onGone: () => void }) {
  const queries = useQueryClient();
  const say = useSay();
  const struck = useMutation({
    mutationFn: (out: boolean) =>
      answered(
        api.PUT('/api/own-parts/{part_id}/struck', {
          params: { path: { part_id: id }, query: { out } },
        }),
      ),
    onSuccess: (_, out) => {
      if (out) {
        say({ text: `“${name}” is off the list.`, undo: () => struck.mutate(false) });
        onGone();
      }
      return queries.invalidateQueries({ queryKey: ownPartsQuery.queryKey });
    },
  });
  return (
    <button type="button" className={styles.off} onClick={() => struck.mutate(true)}>
      Take it off the list
    </button>
  );
}
