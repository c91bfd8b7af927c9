import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useSyncExternalStore } from 'react';
import { answered, api, Refusal, type Schema } from './client';
import { ownKey } from './place';

/** Something logged on this screen while the server could not be reached. Its key makes sending it repeatable. */
export type Waiting = {
  key: string;
  trialId: number;
  refused?: string;
  /** The field of the number that is asked about, where that is all. */
  doubted?: string | null;
} & ({ of: 'cut'; body: Schema['NewCutRequest'] } | { of: 'ladder'; body: Schema['LadderRequest'] });

const KEPT = ownKey('waits to be sent');
const AGAIN_MS = 3000;
const listeners = new Set<() => void>();
let read = { text: '[]', waiting: [] as readonly Waiting[] };

/** What waits on this device, oldest first. */
export function waiting(): readonly Waiting[] {
  const text = localStorage.getItem(KEPT) ?? '[]';
  if (text !== read.text) read = { text, waiting: JSON.parse(text) as Waiting[] };
  return read.waiting;
}

/** Keeps it on this device until the server has answered; throws where the device has no room. */
export function keepToSend(one: Waiting): void {
  keep([...waiting().filter((w) => w.key !== one.key), one]);
}

/** The number that was asked about is right: it is sent again with that said. */
export function insistOn(one: Waiting): void {
  const { doubted, ...again } = one;
  if (!doubted) return;
  delete again.refused;
  const insisted = [...again.body.insisted, doubted];
  keepToSend(
    again.of === 'cut'
      ? { ...again, body: { ...again.body, insisted } }
      : { ...again, body: { ...again.body, insisted } },
  );
}

export const throwAway = (key: string): void => keep(waiting().filter((w) => w.key !== key));

function keep(all: readonly Waiting[]): void {
  localStorage.setItem(KEPT, JSON.stringify(all));
  listeners.forEach((tell) => tell());
}

const watch = (tell: () => void) => {
  listeners.add(tell);
  window.addEventListener('storage', tell);
  return () => {
    listeners.delete(tell);
    window.removeEventListener('storage', tell);
  };
};

export const useWaiting = () => useSyncExternalStore(watch, waiting);

function send(one: Waiting): Promise<unknown> {
  const params = { path: { trial_id: one.trialId } };
  return one.of === 'cut'
    ? answered(api.POST('/api/trials/{trial_id}/cuts', { params, body: one.body }))
    : answered(api.POST('/api/trials/{trial_id}/ladder', { params, body: one.body }));
}

/** Sends what waits, in its order. The server knows each by its key: sent twice, it is logged once. */
async function sendAll(queries: QueryClient): Promise<void> {
  for (const one of waiting()) {
    if (one.refused) continue;
    try {
      await send(one);
    } catch (failed) {
      if (!(failed instanceof Refusal) || failed.status === 0 || failed.status === 401) return;
      if (failed.status >= 500) return;
      keepToSend({ ...one, refused: failed.message, doubted: failed.doubted });
      continue;
    }
    throwAway(one.key);
    await queries.invalidateQueries();
  }
}

/** Looks again every few seconds, for as long as anything waits. */
export function useSending(): void {
  const queries = useQueryClient();
  const some = useWaiting().some((w) => !w.refused);
  useEffect(() => {
    if (!some) return undefined;
    let sending = false;
    const look = () => {
      if (sending) return;
      sending = true;
      void sendAll(queries).finally(() => (sending = false));
    };
    look();
    const timer = setInterval(look, AGAIN_MS);
    return () => clearInterval(timer);
  }, [some, queries]);
}
