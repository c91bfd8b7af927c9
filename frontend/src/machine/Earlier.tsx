import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import type { Kept } from './measured';
import styles from './square.module.css';
import { Figures } from './Verdict';

/** Measurements that are kept, newest first: the one after a correction stands over the one before it. */
export function Earlier({ kept, units }: { kept: readonly Kept[]; units: ShopUnits }) {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/measured/{measured_id}/struck', {
          params: { path: { measured_id: id }, query: { out } },
        }),
      ),
    onSuccess: (_, { id, out }) => {
      if (out)
        say({
          text: 'The measurement was struck out.',
          undo: () => strike.mutate({ id, out: false }),
        });
      return queries.invalidateQueries({ queryKey: ['measured'] });
    },
  });
  if (kept.length === 0) return null;
  return (
    <section className={styles.earlier} aria-label="Measured before">
      <h2>Measured before</h2>
      <ol>
        {kept.map((k, i) => (
          <li key={k.id}>
            <header>
              <strong>{new Date(k.measured_at).toLocaleDateString()}</strong>
              <span className="soft">
                {[k.measured_by, k.note].filter(Boolean).join(': ') || 'nothing noted'}
              </span>
              <Button onClick={() => strike.mutate({ id: k.id, out: true })}>Strike out</Button>
            </header>
            <p>{k.judged.findings.map((f) => f.title).join('; ')}</p>
            <Figures report={k.judged.report} units={units} before={kept[i + 1]?.judged.report} />
          </li>
        ))}
      </ol>
    </section>
  );
}
