import { queryOptions } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type Sheet = Schema['TrendAnswer'];
export type SheetLine = Schema['BookPageAnswer'];
export type Preview = Schema['ImportPreview'];
export type Match = Schema['MatchModel'];

export const pagesQuery = queryOptions({
  queryKey: ['rows', 'pages'],
  queryFn: () => answered(api.GET('/api/book/pages')),
});

export const recipeQuery = (id: number) =>
  queryOptions({
    queryKey: ['recipes', id],
    queryFn: () =>
      answered(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: id } } })),
  });

export interface SheetOf {
  metal: string;
  torch_set_id: number;
  gas: string;
}

export const sheetQuery = (of: SheetOf) =>
  queryOptions({
    queryKey: ['rows', 'sheet', of],
    queryFn: () => answered(api.GET('/api/book/page', { params: { query: of } })),
  });

export const historyQuery = (rowId: number) =>
  queryOptions({
    queryKey: ['rows', 'history', rowId],
    queryFn: () =>
      answered(api.GET('/api/book/rows/{row_id}/history', { params: { path: { row_id: rowId } } })),
  });

export const sheetAddress = (p: SheetOf): string =>
  `/book/sheet?${new URLSearchParams({ metal: p.metal, set: String(p.torch_set_id), gas: p.gas }).toString()}`;

export type Watch = Schema['WatchAnswer'];
export type Check = Watch['checks'][number];

/** A recipe on the parts as they are now; with what a bad part and a check cost, how often to check too. */
export const watchQuery = (id: number, badPart: number | null, check: number | null, each: number) =>
  queryOptions({
    queryKey: ['watch', id, badPart, check, each],
    queryFn: () =>
      answered(
        api.GET('/api/recipes/{recipe_id}/watch', {
          params: {
            path: { recipe_id: id },
            query: { bad_part_cost: badPart, check_cost: check, starts_each: each },
          },
        }),
      ),
    placeholderData: (before) => before,
    refetchInterval: 20_000,
  });
