import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { useSay } from '../kit/undo';
import styles from './trouble.module.css';

/** Troubles that were solved here. */
export function Cases() {
  const queries = useQueryClient();
  const say = useSay();
  const kept = useQuery({
    queryKey: ['trouble cases'],
    queryFn: () => answered(api.GET('/api/trouble-cases')),
  });
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/trouble-cases/{case_id}/struck', {
          params: { path: { case_id: id }, query: { out } },
        }),
      ),
    onSuccess: (_, { id, out }) => {
      if (out) say({ text: 'The case was struck out.', undo: () => strike.mutate({ id, out: false }) });
      return queries.invalidateQueries({ queryKey: ['trouble cases'] });
    },
  });
  if (!kept.data?.length) return null;
  return (
    <section aria-label="Solved before" className={styles.told}>
      <h2>Solved before</h2>
      <ul>
        {kept.data.map((c) => (
          <li key={c.id}>
            <span>
              {c.words}: <strong>{c.cause}</strong>{' '}
              <small>
                {new Date(c.solved_at).toLocaleDateString()}
                {c.solved_by && `, ${c.solved_by}`}
                {c.note && `: ${c.note}`}
              </small>
            </span>
            <Button onClick={() => strike.mutate({ id: c.id, out: true })}>Strike out</Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
