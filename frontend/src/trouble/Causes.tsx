import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import styles from './trouble.module.css';
import type { Cause, Facts, Trouble } from './queries';

/** The living causes with their chances; the chosen one with why, how to prove it, and the page that cures it. */
export function Causes({
  tableId,
  complaint,
  facts,
  ofCut,
  trouble,
  onSolved,
}: {
  tableId: number;
  complaint: string;
  facts: Facts;
  ofCut: boolean;
  trouble: Trouble;
  onSolved: () => void;
}) {
  const [chosen, choose] = useState<string | null>(null);
  const shown = trouble.causes.find((c) => c.code === chosen) ?? trouble.causes[0];
  return (
    <section aria-label="What it may be" className={styles.causes}>
      <ol>
        {trouble.causes.map((c) => (
          <li key={c.code}>
            <button
              type="button"
              aria-pressed={c === shown}
              onClick={() => choose(c.code)}
              style={{ '--chance': c.chance } as React.CSSProperties}
            >
              <span>{c.title}</span>
              <b className="number">{Math.max(1, Math.round(100 * c.chance))}</b>
              <small>in 100</small>
            </button>
          </li>
        ))}
      </ol>
      {shown && (
        <One
          key={shown.code}
          tableId={tableId}
          complaint={complaint}
          facts={facts}
          ofCut={ofCut}
          cause={shown}
          onSolved={onSolved}
        />
      )}
    </section>
  );
}

function One({
  tableId,
  complaint,
  facts,
  ofCut,
  cause,
  onSolved,
}: {
  tableId: number;
  complaint: string;
  facts: Facts;
  ofCut: boolean;
  cause: Cause;
  onSolved: () => void;
}) {
  const [note, setNote] = useState('');
  const queries = useQueryClient();
  const say = useSay();
  const solved = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/trouble-cases', {
          params: { path: { table_id: tableId } },
          body: { complaint, facts, of_cut: ofCut, cause: cause.code, note },
        }),
      ),
    onSuccess: (kept) => {
      say({
        text: 'Kept: the next such trouble here begins with what this one was.',
        undo: () =>
          void answered(
            api.PUT('/api/trouble-cases/{case_id}/struck', { params: { path: { case_id: kept.id } } }),
          ).then(() => queries.invalidateQueries({ queryKey: ['trouble cases'] })),
      });
      onSolved();
      return queries.invalidateQueries({ queryKey: ['trouble cases'] });
    },
  });
  return (
    <article className={styles.one}>
      <h2>{cause.title}</h2>
      <p>{cause.why}</p>
      {cause.cautions.map((c) => (
        <Notice key={c} kind="caution">
          {c}
        </Notice>
      ))}
      <p>
        <strong>To prove it:</strong> {cause.check}
      </p>
      <p>
        <strong>To put it right:</strong> {cause.fix}
      </p>
      {cause.figures && (
        <p>
          <strong>Known here:</strong> {cause.figures}
        </p>
      )}
      {cause.path && (
        <Link className={styles.door} to={cause.path}>
          Go there
        </Link>
      )}
      <TextField label="What was done" value={note} most={400} onType={setNote} />
      <Button variant="contained" disabled={solved.isPending} onClick={() => solved.mutate()}>
        That was it
      </Button>
      {solved.isError && <Notice kind="refusal">{refusalText(solved.error)}</Notice>}
    </article>
  );
}
