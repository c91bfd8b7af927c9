import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { refusalText } from '../kit/Notice';
import { logOf, newLog, type Log } from './log';
import { nextCut, type Bench } from './model';

type Waiting = Schema['WaitingPiece'];

const localKey = (trialId: number): string => `log of trial ${trialId}`;

/** Keeps a half-typed log here at once, for a dead battery. */
export function keepHere(trialId: number, log: Log | null): void {
  if (log) localStorage.setItem(localKey(trialId), JSON.stringify(log));
  else localStorage.removeItem(localKey(trialId));
}

const parsed = (body: string | null | undefined): Log | null => {
  try {
    // A log half-typed before these were kept was of the next square, with the height set.
    return body
      ? ({ piece: 'square', height_control: 'off', number: null, ...JSON.parse(body) } as Log)
      : null;
  } catch {
    return null; // a log that cannot be read back is no log
  }
};

export const draftKey = (trialId: number) => ['draft', trialId] as const;

/** Opening the log of the next cut: the half-typed one where there is one, else a fresh one. */
export function useOpenLog(trialId: number, bench: Bench | undefined, setLog: (log: Log) => void) {
  const queries = useQueryClient();
  const draft = useQuery({
    queryKey: draftKey(trialId),
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/draft', { params: { path: { trial_id: trialId } } })),
  });
  const here = parsed(localStorage.getItem(localKey(trialId)));
  const kept = here ?? parsed(draft.data?.body);
  const locked = Boolean(bench?.trial.recipe_id);
  const open = useCallback(
    (through: Log['through'], piece?: Waiting) => {
      if (!bench || locked) return;
      const asked = piece ?? nextCut(bench);
      const stored = parsed(localStorage.getItem(localKey(trialId))) ?? parsed(draft.data?.body);
      if (stored) {
        setLog(stored);
        return;
      }
      const log = newLog(asked, bench.trial, bench.reading_u_deg, through);
      // Its reading is logged under the key of the piece, and is so known for that piece's.
      setLog(piece ? { ...log, key: piece.key, number: piece.number } : log);
    },
    [bench, draft.data, locked, setLog, trialId],
  );
  const simulated = useMutation({
    mutationFn: (piece: Waiting | undefined) =>
      answered(
        api.POST('/api/trials/{trial_id}/simulated-cut', {
          params: { path: { trial_id: trialId }, query: { planned_id: piece?.id ?? null } },
        }),
      ),
    onSuccess: (cut, piece) => {
      if (!bench) return;
      const log = logOf(cut, bench.trial, bench.reading_u_deg);
      setLog(piece ? { ...log, key: piece.key, number: piece.number } : log);
      void queries.invalidateQueries({ queryKey: draftKey(trialId) });
    },
  });
  return {
    open,
    kept: kept !== null && !locked,
    simulate: (piece?: Waiting) => simulated.mutate(piece),
    refused: simulated.isError ? refusalText(simulated.error) : null,
  };
}
