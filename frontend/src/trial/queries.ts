import { queryOptions } from '@tanstack/react-query';
import { answered, api } from '../kit/client';

export const startQuery = (
  metal: string,
  thickness_mm: number,
  torch_set_id: number,
  gas: string,
  table_id: number,
) =>
  queryOptions({
    queryKey: ['start', metal, thickness_mm, torch_set_id, gas, table_id],
    queryFn: () =>
      answered(
        api.GET('/api/start', {
          params: { query: { metal, thickness_mm, torch_set_id, gas, table_id } },
        }),
      ),
  });

/** The Book's rows of a metal with one set: which gases there are. */
export const rowsOfQuery = (metal: string, torch_set_id: number) =>
  queryOptions({
    queryKey: ['rows', 'of', metal, torch_set_id],
    queryFn: () => answered(api.GET('/api/book/rows', { params: { query: { metal, torch_set_id } } })),
  });

export type TargetWay = 'bevel_deg' | 'gap_mm' | 'iso_range';

export const targetQuery = (thickness_mm: number, way: TargetWay, value: number) =>
  queryOptions({
    queryKey: ['target', thickness_mm, way, value],
    queryFn: () =>
      answered(api.GET('/api/target', { params: { query: { thickness_mm, [way]: value } } })),
  });
