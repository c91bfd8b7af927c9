import { useMutation } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { anythingTyped, type Log, type Sheet } from './log';
import styles from './log.module.css';

const KINDS: { value: Sheet['piece']; label: string }[] = [
  { value: 'square', label: 'Square' },
  { value: 'strip', label: 'Strip, or another straight' },
  { value: 'round', label: 'Round slug' },
  { value: 'hole', label: 'Hole' },
];

/** Which piece is in the hand: its sheet asks for its own edges. */
export function WhatWasCut({
  trialId,
  log,
  change,
}: {
  trialId: number;
  log: Log;
  change: (to: Log) => void;
}) {
  const choose = useMutation({
    mutationFn: (piece: Sheet['piece']) =>
      answered(
        api.GET('/api/trials/{trial_id}/log-sheet', {
          params: { path: { trial_id: trialId }, query: { piece } },
        }),
      ),
    onSuccess: (sheet) => change({ ...log, sheet, edges: {}, at: sheet.order[0] ?? log.at }),
  });
  return (
    <label className={styles.what}>
      <span className="hidden-text">What was cut</span>
      <select
        value={log.sheet.piece}
        disabled={choose.isPending || (anythingTyped(log) && Object.keys(log.edges).length > 0)}
        onChange={(e) => choose.mutate(e.target.value as Sheet['piece'])}
      >
        {KINDS.map((k) => (
          <option key={k.value} value={k.value}>
            {k.label}
          </option>
        ))}
      </select>
    </label>
  );
}
