import { at } from '../kit/place';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits } from '../kit/units';
import styles from './parts.module.css';
import { VERDICT_SIGNS, type Part } from './queries';

/** Every look at a part, newest first: when, at which starts, what was seen, and by whom. */
export function LookedAt({ part, units }: { part: Part; units: ShopUnits }) {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/inspections/{inspection_id}/struck', {
          params: { path: { inspection_id: id }, query: { out } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (part.inspections.length === 0) return null;
  return (
    <ul className={styles.looked} aria-label="Looked at">
      {part.inspections.map((i) => (
        <li key={i.id}>
          {i.has_photo && (
            <a href={at(`/api/inspections/${i.id}/photo`)} target="_blank" rel="noreferrer">
              <img
                src={at(`/api/inspections/${i.id}/photo`)}
                alt={`The ${part.word} at ${i.starts} starts`}
              />
            </a>
          )}
          <span>
            <strong>
              {VERDICT_SIGNS[i.verdict]} at {i.starts} starts
            </strong>
            {i.pit_mm !== null && (
              <>
                {' '}
                pit {showLength(i.pit_mm, units).text} ± {showLength(i.u_mm ?? 0, units).text}{' '}
                {units.length_unit}
              </>
            )}
            <small>
              {new Date(i.seen_at).toLocaleDateString([], { dateStyle: 'medium' })}
              {i.seen_by && `, ${i.seen_by}`}
              {i.told && `, by ${i.told}`}
              {i.note && `: ${i.note}`}
            </small>
          </span>
          <button
            type="button"
            onClick={() => {
              strike.mutate({ id: i.id, out: true });
              say({
                text: 'That look is struck out.',
                undo: () => strike.mutate({ id: i.id, out: false }),
              });
            }}
          >
            Strike out
          </button>
        </li>
      ))}
    </ul>
  );
}
