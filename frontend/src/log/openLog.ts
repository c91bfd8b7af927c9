import { ownKey } from '../kit/place';
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { answered, api, type Bench, type Cut, type Schema, type Trial } from '../kit/client';
import { refusalText } from '../kit/Notice';
import {
  anythingTyped,
  correctionLog,
  newLog,
  simulatedLog,
  type Dross,
  type Log,
  type Sheet,
} from './log';

type Waiting = Schema['WaitingPiece'];
type Again = Schema['ReadAgainHere'];

const localKey = (trialId: number): string => ownKey(`log of trial ${trialId}`);

/** Keeps a half-typed log here at once, for a dead battery. */
export function keepHere(trialId: number, log: Log | null): void {
  if (log) localStorage.setItem(localKey(trialId), JSON.stringify(log));
  else localStorage.removeItem(localKey(trialId));
}

/** A half-typed log read back. One that an older version kept has no sheet: it is laid on this one. */
export function readBack(body: string | null | undefined, bench: Bench | undefined): Log | null {
  if (!body || !bench) return null;
  try {
    const kept = JSON.parse(body) as Partial<Log>;
    const fresh = newLog(bench.log_sheet, bench.now.setting, bench.trial, null);
    // A sheet that an older version kept has no methods: what was typed is laid on this one.
    const sheet = kept.sheet?.methods ? kept.sheet : fresh.sheet;
    const read = { ...fresh, ...kept, dross: drossOf(kept.dross), sheet };
    return anythingTyped(read) ? read : null; // what was erased again is no log
  } catch {
    return null; // a log that cannot be read back is no log
  }
}

/** Dross as it is kept now, from what an older version kept: one kind with its grade, or a word. */
function drossOf(kept: unknown): Dross | null {
  if (kept === null || kept === undefined) return null;
  if (typeof kept === 'string') return {};
  const old = kept as { kind?: 'low_speed' | 'high_speed' | null; grade?: number };
  if (!('kind' in old)) return kept;
  return old.kind ? { [old.kind]: old.grade ?? 1 } : {};
}

/** Throws a half-typed log away, here and on the server; answers with a way to have it back. */
export async function throwAway(trialId: number): Promise<() => Promise<void>> {
  const path = { trial_id: trialId };
  const here = localStorage.getItem(localKey(trialId));
  const there = await answered(api.GET('/api/trials/{trial_id}/draft', { params: { path } }));
  keepHere(trialId, null);
  await api.DELETE('/api/trials/{trial_id}/draft', { params: { path } });
  return async () => {
    const body = here ?? there.body;
    if (!body) return;
    localStorage.setItem(localKey(trialId), body);
    const { key } = JSON.parse(body) as { key?: string };
    await api.PUT('/api/trials/{trial_id}/draft', { params: { path }, body: { body, key: key ?? '' } });
  };
}

/** How the height was held, where it is known before it is logged. */
export type Under = Pick<Log, 'height_control' | 'set_point_v'>;

export const draftKey = (trialId: number) => ['draft', trialId] as const;

const draftQuery = (trialId: number) =>
  queryOptions({
    queryKey: draftKey(trialId),
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/draft', { params: { path: { trial_id: trialId } } })),
  });

/** Opening the log of the next cut: the half-typed one where there is one, else a fresh one. */
export function useOpenLog(trialId: number, bench: Bench | undefined, setLog: (log: Log) => void) {
  const queries = useQueryClient();
  const draft = useQuery(draftQuery(trialId));
  const here = readBack(localStorage.getItem(localKey(trialId)), bench);
  const kept = here ?? readBack(draft.data?.body, bench);
  const locked = Boolean(bench?.trial.recipe_id);
  const sheet = useMutation({
    mutationFn: (query: { planned_id: number } | { kind: Sheet['kind'] }) =>
      answered(
        api.GET('/api/trials/{trial_id}/log-sheet', {
          params: { path: { trial_id: trialId }, query },
        }),
      ),
  });
  const fetchSheet = sheet.mutate;
  const open = useCallback(
    (through: Log['through'], piece?: Waiting, kind?: Sheet['kind'], under?: Under) => {
      if (!bench || locked) return;
      const stored =
        readBack(localStorage.getItem(localKey(trialId)), bench) ?? readBack(draft.data?.body, bench);
      if (stored) {
        setLog(stored);
        return;
      }
      const lay = (sheet: Sheet) => {
        const log = { ...newLog(sheet, piece ?? bench.now.setting, bench.trial, through), ...under };
        // Its reading is logged under the key of the piece, and is so known for that piece's.
        setLog(piece ? { ...log, key: piece.key, number: piece.number } : log);
      };
      if ((piece?.kind ?? kind ?? 'square') === 'square') lay(bench.log_sheet);
      else fetchSheet(piece ? { planned_id: piece.id } : { kind: kind ?? 'square' }, { onSuccess: lay });
    },
    [bench, draft.data, fetchSheet, locked, setLog, trialId],
  );
  const simulated = useMutation({
    mutationFn: ({ piece, own }: { piece?: Waiting | undefined; own?: Schema['Setting'] | undefined }) =>
      answered(
        api.POST('/api/trials/{trial_id}/simulated-cut', {
          params: { path: { trial_id: trialId }, query: { planned_id: piece?.id ?? null, ...own } },
        }),
      ),
    onSuccess: (cut, { piece }) => {
      if (!bench) return;
      const log = simulatedLog(cut, bench.log_sheet, bench.trial);
      setLog(piece ? { ...log, key: piece.key, number: piece.number } : log);
      void queries.invalidateQueries({ queryKey: draftKey(trialId) });
    },
  });
  // Not while another is half typed or waits to be read: those come first.
  const free = bench !== undefined && !locked && kept === null && bench.waiting.length === 0;
  return {
    open,
    openAt: free
      ? (at: Schema['Setting']) => setLog(newLog(bench.log_sheet, at, bench.trial, 'full'))
      : null,
    kept: kept !== null && !locked,
    simulate: (piece?: Waiting, own?: Schema['Setting']) => simulated.mutate({ piece, own }),
    refused: simulated.isError || sheet.isError ? refusalText(simulated.error ?? sheet.error) : null,
  };
}

/** Opens a logged cut on its own sheet, with every reading it has; edges to read again come first. */
export function useCorrect(trial: Trial | undefined, setLog: (log: Log) => void) {
  const opened = useMutation({
    mutationFn: async ({ cut, again }: { cut: Cut; again?: readonly Again[] }) => {
      if (!trial) throw new Error('there is no trial to correct a cut of');
      const path = { trial_id: trial.id };
      const edges = (again ?? []).map((e) => `${e.side} ${e.heading_deg}`).join(',');
      const query = { cut_id: cut.id, again: edges };
      const sheet = await answered(
        api.GET('/api/trials/{trial_id}/log-sheet', { params: { path, query } }),
      );
      return correctionLog(cut, sheet, trial);
    },
    onSuccess: setLog,
  });
  return { correct: opened.mutate, refused: opened.isError ? refusalText(opened.error) : null };
}
