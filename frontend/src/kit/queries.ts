import { keepPreviousData, queryOptions, useQuery } from '@tanstack/react-query';
import { answered, api } from './client';
import { useSettings } from './settings';
import type { ShopUnits } from './units';

const WATCH_MS = 2000;

export const shopQuery = queryOptions({
  queryKey: ['shop'],
  queryFn: () => answered(api.GET('/api/shop')),
});

export const tablesQuery = queryOptions({
  queryKey: ['tables'],
  queryFn: () => answered(api.GET('/api/tables')),
  refetchInterval: 5 * WATCH_MS,
});

export const metalsQuery = queryOptions({
  queryKey: ['metals'],
  queryFn: () => answered(api.GET('/api/metals')),
  staleTime: Infinity,
});

export const torchSetsQuery = queryOptions({
  queryKey: ['torch-sets'],
  queryFn: () => answered(api.GET('/api/torch-sets')),
});

/** Trials by the words sought, at most so many, newest first. */
export const trialsQuery = (sought: string, most: number) =>
  queryOptions({
    queryKey: ['trials', sought, most],
    queryFn: () => answered(api.GET('/api/trials', { params: { query: { sought, most } } })),
    placeholderData: keepPreviousData,
  });

export const recipesQuery = queryOptions({
  queryKey: ['recipes'],
  queryFn: () => answered(api.GET('/api/recipes')),
});

export const rowsQuery = queryOptions({
  queryKey: ['rows'],
  queryFn: () => answered(api.GET('/api/book/rows')),
});

/** The table that this screen stands at. */
export function useTable() {
  const tables = useQuery(tablesQuery);
  const { tableId } = useSettings();
  return tables.data?.find((t) => t.id === tableId) ?? tables.data?.[0] ?? null;
}

/** How often the trial changed; asked every two seconds, so that two screens keep together. */
export const revisionQuery = (trialId: number) =>
  queryOptions({
    queryKey: ['revision', trialId],
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/revision', { params: { path: { trial_id: trialId } } })),
    refetchInterval: WATCH_MS,
  });

/** The Bench of a trial at a revision: it stays true until the trial changes. */
export function useBench(trialId: number) {
  const revision = useQuery(revisionQuery(trialId));
  return useQuery({
    queryKey: ['bench', trialId, revision.data?.revision],
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/bench', { params: { path: { trial_id: trialId } } })),
    enabled: revision.data !== undefined || revision.isError,
    placeholderData: (before) => (before?.trial.id === trialId ? before : undefined),
    staleTime: Infinity,
  });
}

const METRIC: ShopUnits = { length_unit: 'mm', speed_unit: 'mm/min' };

/** The units the shop thinks in; millimetres for the moment before they are known. */
export function useUnits(): ShopUnits {
  return useQuery(shopQuery).data ?? METRIC;
}
