import { queryOptions } from '@tanstack/react-query';
import { answered, ofShop, type Schema } from '../kit/client';

export type Run = Schema['RunAnswer'];
export type TableStep = Schema['TableStepAnswer'];

/** What is counted in an exercise: cuts, or runs where the arc is watched. */
export const counted = (of: { watched: boolean }, n: number): string =>
  `${n} ${of.watched ? 'run' : 'cut'}${n === 1 ? '' : 's'}`;

const RUN = 'practice run';

/** The exercise that this screen is at, while it stands in the practice shop. */
export const runHere = (): number | null => Number(localStorage.getItem(RUN)) || null;

/** Goes to the practice shop, to the table of an exercise: to its Bench, or to where its arc is watched. */
export function goTo(run: Pick<Run, 'id' | 'table_id' | 'watched'>): void {
  localStorage.setItem(RUN, String(run.id));
  localStorage.setItem('practice table', String(run.table_id));
  window.location.assign(run.watched ? '/on-practice/height' : '/on-practice/bench');
}

export const runQuery = (runId: number) =>
  queryOptions({
    queryKey: ['practice run', runId],
    queryFn: () =>
      answered(ofShop.GET('/api/practice/tables/{run_id}', { params: { path: { run_id: runId } } })),
    refetchInterval: 2000,
  });

export const practiceTablesQuery = queryOptions({
  queryKey: ['practice tables'],
  queryFn: () => answered(ofShop.GET('/api/practice/tables')),
});
