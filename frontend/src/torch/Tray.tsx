import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import styles from './parts.module.css';
import { fitting, useFit, useTakeBack, type Part, type Parts } from './queries';

/** What lies ready: parts put aside, and those good enough for rough work. */
export function Tray({ table, parts }: { table: Table; parts: Parts }) {
  const fit = useFit(table.id);
  const takeBack = useTakeBack();
  const say = useSay();
  const queries = useQueryClient();
  const back = (p: Part) =>
    fit.mutate(
      fitting({ kind: 'parts', part: p.part, part_id: p.id, off: 'good', instead_of: parts.fitting_id }),
      {
        onSuccess: (fitted) =>
          say({
            text: `${named(p)} is back in, at ${p.counts.starts} starts.`,
            undo: () => takeBack(fitted.id),
          }),
      },
    );
  const keep = (p: Part, kept: Part['kept']) =>
    answered(
      api.PUT('/api/parts/{part_id}/kept', {
        params: { path: { part_id: p.id } },
        body: { kept, limit_mm: p.limit_mm },
      }),
    );
  const drop = useMutation({
    mutationFn: (p: Part) => keep(p, 'scrap'),
    onSuccess: (_, p) => {
      say({
        text: `${named(p)} is done with.`,
        undo: () => void keep(p, p.kept).then(() => queries.invalidateQueries()),
      });
      return queries.invalidateQueries();
    },
  });
  const group = (kept: Part['kept'], title: string) => {
    const lie = parts.tray.filter((p) => p.kept === kept);
    return lie.length === 0 ? null : (
      <>
        <h3>{title}</h3>
        <ul>
          {lie.map((p) => (
            <li key={p.id}>
              <span>
                <strong>{named(p)}</strong> {p.counts.starts} starts
              </span>
              <Button variant="outlined" disabled={fit.isPending} onClick={() => back(p)}>
                Put it back in
              </Button>
              <button type="button" onClick={() => drop.mutate(p)}>
                Done with
              </button>
            </li>
          ))}
        </ul>
      </>
    );
  };
  return (
    <section className={styles.tray} aria-labelledby="tray">
      <h2 id="tray">In the tray</h2>
      {parts.tray.length === 0 && (
        <p>Nothing lies here. A part that is put aside keeps its history until it goes back in.</p>
      )}
      {group('good', 'Put aside, good')}
      {group('rough_work', 'Good enough for rough work')}
      {fit.isError && <Notice kind="refusal">{refusalText(fit.error)}</Notice>}
    </section>
  );
}

const named = (p: Part): string => `${p.word[0]?.toUpperCase() ?? ''}${p.word.slice(1)} ${p.number}`;
