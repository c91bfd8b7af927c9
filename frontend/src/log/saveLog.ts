import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { answered, api, Refusal, type Bench, type Cut, type Schema } from '../kit/client';
import { keepToSend } from '../kit/outbox';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { anythingTyped, isComb, type Correction, type Log } from './log';
import { changesOf, insistedOf, ladderOf, requestOf, rightOf } from './sending';
import { draftKey, keepHere } from './openLog';

const PAUSE_MS = 350;

const keepThere = (trialId: number, log: Log, version: number) =>
  answered(
    api.PUT('/api/trials/{trial_id}/draft', {
      params: { path: { trial_id: trialId } },
      body: { body: JSON.stringify(log), key: log.key, version },
    }),
  );

const one = (cut: Cut): Cut[] => [cut];

const drop = (trialId: number) =>
  api
    .DELETE('/api/trials/{trial_id}/draft', { params: { path: { trial_id: trialId } } })
    .catch(() => null);

/** Sends a log as what it is: strips, a new cut, or the correction of one that is kept. */
function send(trialId: number, log: Log, version: number | null): Promise<Cut[]> {
  const path = { trial_id: trialId };
  if (isComb(log))
    return answered(
      api.POST('/api/trials/{trial_id}/ladder', { params: { path }, body: ladderOf(log) }),
    );
  if (log.cutId === null) {
    const body = { ...requestOf(log), key: log.key };
    return answered(api.POST('/api/trials/{trial_id}/cuts', { params: { path }, body })).then(one);
  }
  return answered(
    api.PATCH('/api/trials/{trial_id}/cuts/{cut_id}', {
      params: { path: { ...path, cut_id: log.cutId } },
      body: {
        ...changesOf(log),
        insisted: insistedOf(log),
        version: version ?? log.version ?? 1,
      } as Correction,
    }),
  ).then(one);
}

/** Keeps the half-typed log on the server as it grows, and saves it as a cut, or as a correction. */
export function useSaveLog(bench: Bench, log: Log, setLog: (log: Log) => void, onSaved: () => void) {
  const { trial } = bench;
  const queries = useQueryClient();
  const say = useSay();
  const [conflict, setConflict] = useState<Cut | null>(null);
  const path = { trial_id: trial.id };
  const kept = useRef(anythingTyped(log)); // whether the server keeps any of it
  // What of it the server has: another screen's is never overwritten unseen.
  const version = useRef(queries.getQueryData<Schema['DraftAnswer']>(draftKey(trial.id))?.version ?? 0);
  const sending = useRef<Promise<unknown>>(Promise.resolve());
  const saidDone = useRef(false); // nothing of it is kept as half-typed any more
  const [elsewhere, setElsewhere] = useState<string | null>(null);

  useEffect(() => {
    if (log.cutId !== null) return;
    const timer = setTimeout(() => {
      if (!anythingTyped(log)) {
        if (kept.current) sending.current = sending.current.then(() => drop(trial.id));
        kept.current = false;
        version.current = 0;
        return;
      }
      kept.current = true;
      const put = async () => {
        if (saidDone.current) return;
        try {
          const done = await keepThere(trial.id, log, version.current);
          version.current = done.version;
          setElsewhere(null);
        } catch (failed) {
          // What cannot reach the server is still kept on this screen.
          if (failed instanceof Refusal && failed.status === 409) setElsewhere(failed.message);
        }
      };
      sending.current = sending.current.then(put);
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

  const done = (text: string, undo?: () => void) => {
    saidDone.current = true;
    if (log.cutId === null) keepHere(trial.id, null);
    say({ text, undo });
    onSaved();
  };

  const saved = useMutation({
    mutationFn: ({ version, log }: { version: number | null; log: Log }) => send(trial.id, log, version),
    onSuccess: async (cuts) => {
      const undo = log.cutId === null ? () => cuts.forEach(strike) : undefined;
      done(
        cuts.length === 1 ? `Cut ${cuts[0]?.number ?? ''} is saved.` : `${cuts.length} slots are saved.`,
        undo,
      );
      await queries.invalidateQueries({ queryKey: draftKey(trial.id) });
      await queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
      await queries.invalidateQueries({ queryKey: ['tables'] });
    },
    onError: async (error) => {
      if (error instanceof Refusal && error.status === 0 && log.cutId === null) {
        const waits = { key: log.key, trialId: trial.id };
        if (isComb(log)) keepToSend({ of: 'ladder', ...waits, body: ladderOf(log) });
        else keepToSend({ of: 'cut', ...waits, body: { ...requestOf(log), key: log.key } });
        done('Kept on this screen: it is sent as soon as Orthotome answers.');
        return;
      }
      if (!(error instanceof Refusal) || error.status !== 409 || log.cutId === null) return;
      if (error.doubted !== null) return;
      const now = await answered(api.GET('/api/trials/{trial_id}/bench', { params: { path } }));
      setConflict(now.cuts.find((c) => c.id === log.cutId) ?? null);
    },
  });

  return {
    save: () => saved.mutate({ version: null, log }),
    /** The number that was asked about is right as it stands. */
    insist: (field: string) => {
      const to = { ...log, right: [...log.right, rightOf(log, field)] };
      setLog(to);
      saved.mutate({ version: null, log: to });
    },
    saveOver: () => {
      if (!conflict) return;
      setLog({ ...log, version: conflict.version });
      setConflict(null);
      saved.mutate({ version: conflict.version, log });
    },
    forget: () => saved.reset(),
    saving: saved.isPending,
    refused: saved.isError ? saved.error : null,
    elsewhere,
    conflict,
  };
}
