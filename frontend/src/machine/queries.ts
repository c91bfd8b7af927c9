import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { useSay } from '../kit/undo';

export type Page = Schema['SettingsAnswer'];
export type Settings = Schema['TablePage'];
export type Air = Schema['AirFile'];
export type AirFinding = Schema['AirFinding'];

export const settingsQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['settings', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/settings', { params: { path: { table_id: tableId } } })),
  });

export const measuredQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['measured', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/measured', { params: { path: { table_id: tableId } } })),
  });

export const factsQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['facts', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/facts', { params: { path: { table_id: tableId } } })),
  });

export const airQuery = (air: Air) =>
  queryOptions({
    queryKey: ['air', air],
    queryFn: () => answered(api.POST('/api/air', { body: air })),
    enabled: air.need_l_min !== null && air.need_l_min !== undefined,
    staleTime: Infinity,
  });

export type Change = (settings: Partial<Settings>, bed?: 'water' | 'downdraft' | 'open') => void;

/** Changes a table's page at once, with a way back. */
export function useChange(page: Page): { change: Change; error: unknown } {
  const queries = useQueryClient();
  const say = useSay();
  const sent = useMutation({
    mutationFn: (c: { settings: Partial<Settings>; bed?: Page['bed']; version?: number }) =>
      answered(
        api.PATCH('/api/tables/{table_id}/settings', {
          params: { path: { table_id: page.table_id } },
          body: {
            settings: c.settings as Settings,
            bed: (c.bed as 'water' | 'downdraft' | 'open' | undefined) ?? null,
            version: c.version ?? page.version,
          },
        }),
      ),
    onSuccess: (changed) => {
      queries.setQueryData(settingsQuery(page.table_id).queryKey, changed);
      return queries.invalidateQueries({ queryKey: ['readiness'] });
    },
    // Changed elsewhere meanwhile: what it says now is shown beside the refusal.
    onError: () => queries.invalidateQueries({ queryKey: settingsQuery(page.table_id).queryKey }),
  });
  const before = page;
  const change: Change = (settings, bed) => {
    const names = Object.keys(settings) as (keyof Settings)[];
    const was = Object.fromEntries(names.map((n) => [n, before.settings[n] ?? null]));
    sent.mutate(bed ? { settings, bed } : { settings }, {
      onSuccess: ({ version }) =>
        say({
          text: 'Kept with the table.',
          undo: () => sent.mutate({ settings: was, ...(bed ? { bed: before.bed } : {}), version }),
        }),
    });
  };
  return { change, error: sent.error };
}
