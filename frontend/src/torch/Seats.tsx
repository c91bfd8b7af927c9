import { wayInWords } from '../kit/ways';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { showThickness, type ShopUnits } from '../kit/units';
import type { Seat, Torch } from './queries';
import styles from './alignment.module.css';

const day = (at: string): string => new Date(at).toLocaleDateString([], { dateStyle: 'medium' });

/** The slugs of this seat, and how the jet stood in the seats before. */
export function Seats({ tableId, torch, units }: { tableId: number; torch: Torch; units: ShopUnits }) {
  const queries = useQueryClient();
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/tables/{table_id}/slugs/{slug_id}/struck', {
          params: { path: { table_id: tableId, slug_id: id } },
          body: { out },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['torch', tableId] }),
  });
  const { now, earlier } = torch;
  if (now.slugs.length === 0 && earlier.length === 0) return null;
  return (
    <div className={styles.seats}>
      {now.slugs.length > 0 && <h3>Slugs read in this seat</h3>}
      <ul>
        {now.slugs.map((s) => {
          const { text, unit } = showThickness(s.thickness_mm, units);
          return (
            <li key={s.id} data-struck={s.struck_out}>
              <span>
                {day(s.read_at)}
                {s.read_by && `, ${s.read_by}`}: {text} {unit}, {s.places.length} places,{' '}
                {s.lean_deg.toFixed(1)}° {wayInWords(s.toward_deg)}
              </span>
              <button
                type="button"
                disabled={strike.isPending}
                onClick={() => strike.mutate({ id: s.id, out: !s.struck_out })}
              >
                {s.struck_out ? 'Put back' : 'Strike out'}
              </button>
            </li>
          );
        })}
      </ul>
      {earlier.length > 0 && <h3>How it stood before</h3>}
      <ul>
        {earlier.map((seat) => (
          <li key={seat.id}>
            <span>
              seated {day(seat.seated_at)}: {stood(seat)}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

const stood = ({ alignment, known_to_deg, readings }: Seat): string =>
  alignment
    ? `${alignment.lean_deg.toFixed(1)}° ${wayInWords(alignment.toward_deg)}, known to ${(known_to_deg ?? 0).toFixed(1)}° from ${readings} readings`
    : 'not read';
