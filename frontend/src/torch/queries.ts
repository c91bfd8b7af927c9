import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type Torch = Schema['TorchAnswer'];
export type Seat = Schema['SeatAnswer'];
export type Moved = Schema['MovedAnswer'];
export type Axis = Schema['MountAxisFile'];
export type Parts = Schema['PartsAnswer'];
export type Part = Schema['PartAnswer'];
export type PartName = Part['part'];
export type Looks = Schema['LooksAnswer'];
export type Trim = Schema['SetPointTrimAnswer'];
export type Fit = Schema['FitRequest'];
export type Kept = Part['kept'];
export type Verdict = Part['verdict'];

export const torchQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['torch', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/torch', { params: { path: { table_id: tableId } } })),
  });

export const partsQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['parts', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/parts', { params: { path: { table_id: tableId } } })),
    refetchInterval: 10_000,
  });

export const looksQuery = queryOptions({
  queryKey: ['part looks'],
  queryFn: () => answered(api.GET('/api/parts/looks')),
  staleTime: Infinity,
});

export const trimQuery = (trialId: number) =>
  queryOptions({
    queryKey: ['trim', trialId],
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/trim', { params: { path: { trial_id: trialId } } })),
    refetchInterval: 20_000,
  });

export const stockQuery = queryOptions({
  queryKey: ['stock'],
  queryFn: () => answered(api.GET('/api/stock')),
});

export const putAsideQuery = queryOptions({
  queryKey: ['put aside'],
  queryFn: () => answered(api.GET('/api/torch-sets/put-aside')),
});

/** What is fitted, said whole: new parts of the set that is on, but for what is named. */
export const fitting = (some: Partial<Fit> & Pick<Fit, 'kind'>): Fit => ({
  part: 'set',
  torch_set_id: null,
  starts: 0,
  arc_on_s: 0,
  part_id: null,
  again: false,
  off: null,
  ...some,
});

/** Fits something; what was known of the parts is asked again. */
export function useFit(tableId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Fit) =>
      answered(
        api.POST('/api/tables/{table_id}/fittings', { params: { path: { table_id: tableId } }, body }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
}

/** Undoes a fitting that nothing was cut with yet. */
export function useTakeBack() {
  const queries = useQueryClient();
  return (fittingId: number) =>
    void answered(
      api.DELETE('/api/fittings/{fitting_id}', { params: { path: { fitting_id: fittingId } } }),
    ).then(() => queries.invalidateQueries());
}

export const VERDICT_SIGNS: Record<Verdict, string> = {
  keep: '■',
  watch: '◪',
  rough_work: '◫',
  replace: '▲',
  not_known: '□',
};

/** "460 to 1160", or where nobody knows, that. */
export const startsLeft = (left: Part['left']): string =>
  left === null ? 'not known' : left.high === 0 ? 'none' : `${left.low} to ${left.high}`;

/** What lies in the tray that will do for a job with such a target. */
export const roughWorkQuery = (torchSetId: number, bevel_deg: number, dross_grade: number) =>
  queryOptions({
    queryKey: ['parts', 'rough', torchSetId, bevel_deg, dross_grade],
    queryFn: () =>
      answered(
        api.GET('/api/torch-sets/{torch_set_id}/for-rough-work', {
          params: { path: { torch_set_id: torchSetId }, query: { bevel_deg, dross_grade } },
        }),
      ),
  });
