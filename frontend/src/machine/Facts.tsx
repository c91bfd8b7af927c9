import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { answered, api, type Problem, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import styles from './machine.module.css';
import { factsQuery } from './queries';

/** Links, wire maps, ratios: what the table's maker never wrote down, with photos. */
export function Facts({ tableId }: { tableId: number }) {
  const facts = useQuery(factsQuery(tableId));
  const queries = useQueryClient();
  const say = useSay();
  const again = () => queries.invalidateQueries({ queryKey: ['facts', tableId] });
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/facts/{fact_id}/struck', { params: { path: { fact_id: id }, query: { out } } }),
      ),
    onSuccess: again,
  });
  return (
    <section className={styles.facts} aria-labelledby="facts">
      <h2 id="facts">What nobody wrote down</h2>
      <ul>
        {facts.data?.map((f) => (
          <li key={f.id}>
            {f.has_photo && (
              <a href={at(`/api/facts/${f.id}/photo`)} target="_blank" rel="noreferrer">
                <img src={at(`/api/facts/${f.id}/photo`)} alt={`Photo: ${f.title}`} />
              </a>
            )}
            <div>
              <strong>{f.title}</strong>
              <p>{f.told}</p>
              <p className={styles.soft}>
                {new Date(f.noted_at).toLocaleDateString()}
                {f.noted_by && `, ${f.noted_by}`}
              </p>
            </div>
            <span className={styles.acts}>
              <PhotoButton fact={f} onTaken={again} />
              <Button
                variant="text"
                onClick={() =>
                  strike.mutate(
                    { id: f.id, out: true },
                    {
                      onSuccess: () =>
                        say({
                          text: `“${f.title}” is struck out.`,
                          undo: () => strike.mutate({ id: f.id, out: false }),
                        }),
                    },
                  )
                }
              >
                Strike out
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <NewFact tableId={tableId} onAdded={again} />
    </section>
  );
}

function NewFact({ tableId, onAdded }: { tableId: number; onAdded: () => Promise<void> }) {
  const [title, setTitle] = useState('');
  const [told, setTold] = useState('');
  const add = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/facts', {
          params: { path: { table_id: tableId } },
          body: { title, told },
        }),
      ),
    onSuccess: async () => {
      setTitle('');
      setTold('');
      await onAdded();
    },
  });
  return (
    <div className={styles.newFact}>
      <TextField
        label="What it is"
        value={title}
        most={200}
        onType={setTitle}
        placeholder="a link, a wire, a ratio"
      />
      <TextField label="What you found" value={told} most={4000} lines={2} onType={setTold} />
      <Button variant="outlined" disabled={!title.trim() || add.isPending} onClick={() => add.mutate()}>
        Note it
      </Button>
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
    </div>
  );
}

function PhotoButton({ fact, onTaken }: { fact: Schema['FactAnswer']; onTaken: () => Promise<void> }) {
  const input = useRef<HTMLInputElement>(null);
  const sent = useMutation({
    mutationFn: async (file: File) => {
      const response = await fetch(at(`/api/facts/${fact.id}/photo`), { method: 'PUT', body: file });
      const error = response.ok ? undefined : ((await response.json()) as Problem);
      return answered<unknown>(Promise.resolve(error ? { error, response } : { response }));
    },
    onSuccess: onTaken,
  });
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        aria-label={`Photo of ${fact.title}`}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) sent.mutate(file);
          e.target.value = '';
        }}
      />
      <Button variant="outlined" onClick={() => input.current?.click()}>
        {fact.has_photo ? 'Another photo' : 'Add a photo'}
      </Button>
      {sent.isError && <Notice kind="refusal">{refusalText(sent.error)}</Notice>}
    </>
  );
}
