import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { NickCode } from '../pieces/NickCode';

type Waiting = Schema['WaitingPiece'];

/** The pieces that are cut and not yet read: the nicks in the edge say which one is in the hand. */
export function WaitingPieces({
  trialId,
  waiting,
  units,
  onRead,
}: {
  trialId: number;
  waiting: Waiting[];
  units: ShopUnits;
  onRead: (piece: Waiting) => void;
}) {
  return (
    <section className={styles.waits} aria-labelledby="waits">
      <h3 id="waits">
        {waiting.length === 1
          ? 'One piece is cut: turn it over'
          : `${waiting.length} pieces are cut: turn one over`}
      </h3>
      <div>
        {waiting.map((w) => (
          <div key={w.id}>
            <button type="button" onClick={() => onRead(w)}>
              <NickCode nicks={w.nicks} />
              <span>
                <strong>
                  {w.kind === 'square' ? 'Piece' : w.title} {w.number}
                </strong>
                <small className="number">
                  {showSpeed(w.speed_mm_min, units).text} {units.speed_unit},{' '}
                  {showLength(w.cut_height_mm, units).text} {units.length_unit}
                </small>
              </span>
            </button>
            <NotCut piece={w} trialId={trialId} />
          </div>
        ))}
      </div>
    </section>
  );
}

/** A piece that was lost, or never cut: it waits no longer, and its place on the scrap is free again. */
function NotCut({ piece, trialId }: { piece: Waiting; trialId: number }) {
  const queries = useQueryClient();
  const say = useSay();
  const struck = useMutation({
    mutationFn: (out: boolean) =>
      answered(
        api.PUT('/api/planned-cuts/{planned_id}/struck', {
          params: { path: { planned_id: piece.id }, query: { out } },
        }),
      ),
    onSuccess: (_, out) => {
      if (out) say({ text: `Piece ${piece.number} is left out.`, undo: () => struck.mutate(false) });
      void queries.invalidateQueries({ queryKey: ['plates'] });
      return queries.invalidateQueries({ queryKey: revisionQuery(trialId).queryKey });
    },
  });
  return (
    <button
      type="button"
      className={styles.leave}
      aria-label={`Piece ${piece.number} was not cut`}
      onClick={() => struck.mutate(true)}
    >
      not cut
    </button>
  );
}
