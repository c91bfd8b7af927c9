import { queryOptions } from '@tanstack/react-query';
import { answered, ofShop, type Schema } from '../kit/client';

export type Run = Schema['RunAnswer'];
export type TableStep = Schema['TableStepAnswer'];

const RUN = 'practice run';

/** The exercise that this screen is at, while it stands in the practice shop. */
export const runHere = (): number | null => Number(localStorage.getItem(RUN)) || null;

/** Goes to the practice shop, to the table of an exercise. */
export function goTo(run: Pick<Run, 'id' | 'table_id'>): void {
  localStorage.setItem(RUN, String(run.id));
  localStorage.setItem('practice table', String(run.table_id));
  window.location.assign('/on-practice/bench');
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
