import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { answered, api, Refusal, type Bench, type Cut } from '../kit/client';
import { refusalText } from '../kit/Notice';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { anythingTyped, changesOf, requestOf, type Correction, type Log } from './log';
import { draftKey, keepHere } from './openLog';

const PAUSE_MS = 350;

/** Keeps the half-typed log on the server as it grows, and saves it as a cut, or as a correction. */
export function useSaveLog(bench: Bench, log: Log, setLog: (log: Log) => void, onSaved: () => void) {
  const { trial } = bench;
  const queries = useQueryClient();
  const say = useSay();
  const [conflict, setConflict] = useState<Cut | null>(null);
  const path = { trial_id: trial.id };
  const kept = useRef(anythingTyped(log)); // whether the server keeps any of it

  useEffect(() => {
    if (log.cutId !== null) return;
    const timer = setTimeout(() => {
      if (!anythingTyped(log)) {
        if (kept.current)
          void api.DELETE('/api/trials/{trial_id}/draft', { params: { path: { trial_id: trial.id } } });
        kept.current = false;
        return;
      }
      kept.current = true;
      // What cannot reach the server is still kept on this screen.
      void api
        .PUT('/api/trials/{trial_id}/draft', {
          params: { path: { trial_id: trial.id } },
          body: { body: JSON.stringify(log) },
        })
        .catch(() => undefined);
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [log, trial.id]);

  const strike = (cut: Cut) => {
    void answered(
      api.PUT('/api/trials/{trial_id}/cuts/{cut_id}/struck', {
        params: { path: { ...path, cut_id: cut.id } },
        body: { version: cut.version, out: true },
      }),
    ).then(() => queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey }));
  };

  const saved = useMutation({
    mutationFn: (version: number | null) => {
      if (log.cutId === null) {
        const body = { ...requestOf(log), key: log.key };
        return answered(api.POST('/api/trials/{trial_id}/cuts', { params: { path }, body }));
      }
      return answered(
        api.PATCH('/api/trials/{trial_id}/cuts/{cut_id}', {
          params: { path: { ...path, cut_id: log.cutId } },
          body: { ...changesOf(log), version: version ?? log.version ?? 1 } as Correction,
        }),
      );
    },
    onSuccess: async (cut) => {
      if (log.cutId === null) keepHere(trial.id, null);
      say({
        text: `Cut ${cut.number} is saved.`,
        undo: log.cutId === null ? () => strike(cut) : undefined,
      });
      onSaved();
      queries.setQueryData(draftKey(trial.id), { body: null, saved_at: null });
      await queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
      await queries.invalidateQueries({ queryKey: ['tables'] });
    },
    onError: async (error) => {
      if (!(error instanceof Refusal) || error.status !== 409 || log.cutId === null) return;
      const now = await answered(api.GET('/api/trials/{trial_id}/bench', { params: { path } }));
      setConflict(now.cuts.find((c) => c.id === log.cutId) ?? null);
    },
  });

  return {
    save: () => saved.mutate(null),
    saveOver: () => {
      if (!conflict) return;
      setLog({ ...log, version: conflict.version });
      setConflict(null);
      saved.mutate(conflict.version);
    },
    saving: saved.isPending,
    refused: saved.isError ? refusalText(saved.error) : null,
    conflict,
  };
}
