import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { TextField } from '../kit/TextField';
import { peopleQuery, type Person } from './queries';
import styles from './shop.module.css';

const ROLES = [
  { value: 'operator', label: 'operator' },
  { value: 'lead_hand', label: 'lead hand' },
] as const;

/** Who signs on at the devices, and what is theirs to do. */
export function People() {
  const people = useQuery(peopleQuery);
  const queries = useQueryClient();
  const [adding, setAdding] = useState(false);
  const again = () => queries.invalidateQueries({ queryKey: peopleQuery.queryKey });
  const change = useMutation({
    mutationFn: ({ id, role }: { id: number; role: Person['role'] }) =>
      answered(
        api.PATCH('/api/people/{person_id}', { params: { path: { person_id: id } }, body: { role } }),
      ),
    onSettled: again,
  });
  const strike = useMutation({
    mutationFn: (id: number) =>
      answered(api.DELETE('/api/people/{person_id}', { params: { path: { person_id: id } } })),
    onSettled: again,
  });
  const refused = change.error ?? strike.error;
  return (
    <section aria-labelledby="people">
      <h2 id="people">People</h2>
      <p className={styles.soft}>
        On the devices everybody signs on with a PIN. An operator cuts, logs and tunes; the Book,
        recipes, backups, devices and people are a lead hand’s.
      </p>
      <ul className={styles.rows}>
        {people.data?.map((p) => (
          <li key={p.id}>
            <span>
              <strong>{p.name}</strong>
              <small>{p.role === 'lead_hand' ? 'lead hand' : 'operator'}</small>
            </span>
            <button
              type="button"
              onClick={() =>
                change.mutate({ id: p.id, role: p.role === 'operator' ? 'lead_hand' : 'operator' })
              }
            >
              {p.role === 'operator' ? 'Make lead hand' : 'Make operator'}
            </button>
            <button type="button" onClick={() => strike.mutate(p.id)} aria-label={`${p.name} left`}>
              Left
            </button>
          </li>
        ))}
      </ul>
      {refused && <Notice kind="refusal">{refusalText(refused)}</Notice>}
      {adding ? (
        <NewPerson
          onDone={async () => {
            setAdding(false);
            await again();
          }}
        />
      ) : (
        <Button variant="outlined" onClick={() => setAdding(true)}>
          Somebody new
        </Button>
      )}
    </section>
  );
}

function NewPerson({ onDone }: { onDone: () => Promise<void> }) {
  const [name, setName] = useState('');
  const [pin, setPin] = useState('');
  const [role, setRole] = useState<Person['role']>('operator');
  const add = useMutation({
    mutationFn: () => answered(api.POST('/api/people', { body: { name, role, pin } })),
    onSuccess: onDone,
  });
  return (
    <div className={styles.newPerson}>
      <TextField label="Name" value={name} most={40} onType={setName} />
      <TextField label="PIN, 4 to 8 digits" value={pin} most={8} onType={setPin} />
      <Choices label="Is" value={role} choices={ROLES} onChoose={setRole} />
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
      <Button
        variant="contained"
        disabled={name.trim() === '' || pin.length < 4 || add.isPending}
        onClick={() => add.mutate()}
      >
        Add
      </Button>
    </div>
  );
}
