import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { SaveButton } from '../kit/SaveButton';
import styles from './height.module.css';
import type { SignalPage, Typed } from './queries';

/** Puts a path in force, and shows those that were: volts before and after are never one series. */
export function PathHistory({
  tableId,
  typed,
  page,
}: {
  tableId: number;
  typed: Typed;
  page: SignalPage;
}) {
  const [note, setNote] = useState('');
  const say = useSay();
  const queries = useQueryClient();
  const now = page.paths.at(0);
  const same =
    now !== undefined &&
    now.source_ratio === typed.source &&
    now.card_ratio === typed.card &&
    now.multiplier === typed.multiplier;
  const keep = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/signal-paths', {
          params: { path: { table_id: tableId } },
          body: {
            source_ratio: typed.source ?? 0,
            card_ratio: typed.card ?? 0,
            multiplier: typed.multiplier ?? 0,
            true_v: typed.seenBy === 'volts' ? typed.trueV : null,
            screen_v: typed.seenBy === 'volts' ? typed.screenV : null,
            note,
          },
        }),
      ),
    onSuccess: async (kept) => {
      setNote('');
      say({
        text:
          kept.fitting_id !== now?.fitting_id && now
            ? 'In force: volts from before are kept apart from now on.'
            : 'The path is kept with the table.',
      });
      await queries.invalidateQueries();
    },
  });
  return (
    <div className={styles.history}>
      <h2>Kept with the table</h2>
      <div className={styles.keep}>
        <TextField
          label="What was found or changed"
          value={note}
          most={500}
          onType={setNote}
          placeholder="divider at the source changed"
        />
        <SaveButton
          disabled={same || !typed.source || !typed.card || !typed.multiplier || keep.isPending}
          onClick={() => keep.mutate()}
        >
          {now ? 'This path is in force now' : 'Keep this path'}
        </SaveButton>
      </div>
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
      {now && !same && (
        <p className={styles.soft}>
          Volts logged before a change and after it are two series: Orthotome never compares them.
        </p>
      )}
      <ol>
        {page.paths.map((p) => (
          <li key={p.id} data-now={p.in_force}>
            <strong>
              {p.in_force ? '■' : '□'} ÷{p.source_ratio} ÷{p.card_ratio} ×{p.multiplier}
            </strong>
            <span>
              {p.true_v !== null && p.screen_v !== null && `${p.true_v} V read as ${p.screen_v} V. `}
              {p.note}
            </span>
            <span className={styles.soft}>
              since {new Date(p.set_at).toLocaleDateString()}
              {p.set_by && `, ${p.set_by}`}
            </span>
          </li>
        ))}
      </ol>
    </div>
  );
}
