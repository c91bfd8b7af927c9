import {
  keepPreviousData,
  skipToken,
  useMutation,
  useQuery,
  useQueryClient,
  type UseMutationResult,
  type UseQueryResult,
} from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { useSay } from '../kit/undo';

export type Check = Schema['KeepCheck']['check'];
export type Said = Schema['CheckSaid'];
export type KeptCheck = Schema['KeptCheck'];

/** What a check says while it is typed; nothing while it is not whole. */
export function useSaid(tableId: number, check: Check | null): UseQueryResult<Said> {
  return useQuery({
    queryKey: ['check said', tableId, check],
    queryFn: check
      ? () => answered(api.POST('/api/machine-checks/judged', { body: { table_id: tableId, check } }))
      : skipToken,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useKept(tableId: number): UseQueryResult<KeptCheck[]> {
  return useQuery({
    queryKey: ['checks', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/checks', { params: { path: { table_id: tableId } } })),
  });
}

export function useKeep(
  tableId: number,
): UseMutationResult<KeptCheck, Error, { check: Check; note: string }> {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useStrike();
  return useMutation({
    mutationFn: (body: { check: Check; note: string }) =>
      answered(
        api.POST('/api/tables/{table_id}/checks', { params: { path: { table_id: tableId } }, body }),
      ),
    onSuccess: (kept) => {
      say({ text: 'Kept with the table.', undo: () => strike.mutate({ id: kept.id, out: true }) });
      return Promise.all([
        queries.invalidateQueries({ queryKey: ['checks'] }),
        queries.invalidateQueries({ queryKey: ['health'] }),
      ]);
    },
  });
}

export function useStrike(): UseMutationResult<unknown, Error, { id: number; out: boolean }> {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/machine-checks/{check_id}/struck', {
          params: { path: { check_id: id }, query: { out } },
        }),
      ),
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: ['checks'] }),
        queries.invalidateQueries({ queryKey: ['health'] }),
      ]),
  });
}
