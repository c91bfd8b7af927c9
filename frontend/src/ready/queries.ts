import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type Ready = Schema['ReadyAnswer'];
export type ReadyItem = Schema['ReadyItem'];
export type Answer = Schema['ReadyRequest']['answer'];
export type Every = Schema['EveryModel'];

export const readyQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['readiness', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/readiness', { params: { path: { table_id: tableId } } })),
    refetchInterval: 8000,
  });

/** Answers an item; what the server then says is due stands at once. */
export function useAnswer(tableId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (given: { code: string; answer: Answer; note?: string }) =>
      answered(
        api.POST('/api/tables/{table_id}/readiness', {
          params: { path: { table_id: tableId } },
          body: { note: '', ...given },
        }),
      ),
    onSuccess: (ready) => {
      queries.setQueryData(readyQuery(tableId).queryKey, ready);
      return queries.invalidateQueries({ queryKey: ['bench'] });
    },
  });
}

export function useFinish(tableId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/readiness/done', { params: { path: { table_id: tableId } } }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
}

export const PERIODS: { value: Every['period']; label: string }[] = [
  { value: 'session', label: 'every session' },
  { value: 'day', label: 'every day' },
  { value: 'days', label: 'every so many days' },
  { value: 'starts', label: 'every so many starts' },
  { value: 'once', label: 'once per table' },
];

export function everyInWords(every: Every): string {
  if (every.period === 'days') return `every ${every.number} days`;
  if (every.period === 'starts') return `every ${every.number} starts`;
  return PERIODS.find((p) => p.value === every.period)?.label ?? every.period;
}
