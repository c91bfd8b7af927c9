import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Notice } from '../kit/Notice';
import { goTo, type Log } from './log';
import { askedOf, readSlots, requestOf } from './sending';
import { swap } from './typing';
import styles from './log.module.css';

type Question = Schema['Question'];

const PAUSE_MS = 700;

/** What to look at again while the piece is in the hand; what the operator insists on is kept. */
export function Questions({
  trialId,
  log,
  change,
}: {
  trialId: number;
  log: Log;
  change: (to: Log) => void;
}) {
  const keys = readSlots(log).map((s) => s.key);
  const now = askedOf(log, keys);
  const [settled, setSettled] = useState(now);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(now), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [now]);
  const asked = useQuery({
    queryKey: ['questions', trialId, settled],
    queryFn: () =>
      answered(
        api.POST('/api/trials/{trial_id}/log-questions', {
          params: { path: { trial_id: trialId } },
          body: edgesOf(log),
        }),
      ),
    enabled: settled === now && keys.length > 0,
    staleTime: Infinity,
  });
  const open = (settled === now ? (asked.data ?? []) : []).filter(
    (q) => !log.insisted.includes(now) && !log.insisted.includes(askedOf(log, keysOf(q, keys))),
  );
  const first = open[0];
  if (!first) return null;
  const about = keysOf(first, keys);
  const [kept, scrap] = about;
  const insist = () => change({ ...log, insisted: [...log.insisted, askedOf(log, about), now] });
  return (
    <Notice kind="caution" title={first.about === 'swapped' ? 'Swapped?' : 'Look again?'}>
      <span className={styles.asked}>
        <span>{first.sentence}</span>
        {first.about === 'swapped' && kept && scrap ? (
          <button type="button" onClick={() => change(swap(log, { kept, scrap }))}>
            Swap them
          </button>
        ) : (
          <button type="button" onClick={() => change(erased(log, kept ?? log.at))}>
            Read it again
          </button>
        )}
        <button type="button" onClick={insist}>
          {first.about === 'swapped' ? 'They are right' : 'It is right'}
        </button>
      </span>
    </Notice>
  );
}

/** Only edges are asked about while it is typed: a voltage of which two digits stand is none yet. */
const edgesOf = (log: Log): ReturnType<typeof requestOf> => ({
  ...requestOf(log),
  arc_voltage_v: null,
  set_point_v: null,
  kerf_mm: null,
  lag_deg: null,
  dross: null,
  note: '',
});

const keysOf = (question: Question, keys: readonly string[]): string[] =>
  question.readings.map((i) => keys[i] ?? '');

/** The reading taken away, and its edge at hand. */
const erased = (log: Log, key: string): Log => ({
  ...goTo(log, key),
  begun: false,
  edges: Object.fromEntries(Object.entries(log.edges).filter(([k]) => k !== key)),
});
