import { useMutation } from '@tanstack/react-query';
import { useRef } from 'react';
import { answered, api } from '../kit/client';
import { anythingTyped, type Log, type Sheet } from './log';
import styles from './log.module.css';

const KINDS: { value: Sheet['kind']; label: string }[] = [
  { value: 'square', label: 'Square' },
  { value: 'strip', label: 'Strip, or another straight' },
  { value: 'strip_ladder', label: 'Speed strips' },
  { value: 'height_ladder', label: 'Height strips' },
  { value: 'pierce_ladder', label: 'Pierces' },
  { value: 'start_end_ladder', label: 'Starts and ends' },
  { value: 'round', label: 'Round slug' },
  { value: 'holes', label: 'Holes in a bar' },
  { value: 'hole', label: 'One hole' },
  { value: 'corner', label: 'Corners' },
  { value: 'long_strip', label: 'Long strip' },
  { value: 'own_part', label: 'A part of our own' },
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
  const newest = useRef(log.sheet.kind);
  const choose = useMutation({
    mutationFn: (kind: Sheet['kind']) =>
      answered(
        api.GET('/api/trials/{trial_id}/log-sheet', {
          params: { path: { trial_id: trialId }, query: { kind } },
        }),
      ),
    onSuccess: (sheet, kind) => {
      if (kind !== newest.current) return; // chosen over meanwhile
      change({
        ...log,
        sheet,
        edges: {},
        looks: {},
        strips: {},
        at: sheet.order[0] ?? log.at,
        filled: false,
        begun: false,
      });
    },
  });
  return (
    <label className={styles.what}>
      <span className="hidden-text">What was cut</span>
      <select
        // While its sheet is on its way it shows what was chosen: whoever goes by keys goes on from there.
        value={choose.isPending ? choose.variables : log.sheet.kind}
        disabled={anythingTyped(log)}
        onChange={(e) => {
          newest.current = e.target.value as Sheet['kind'];
          choose.mutate(newest.current);
        }}
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
