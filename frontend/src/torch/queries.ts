import { queryOptions } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type Torch = Schema['TorchAnswer'];
export type Seat = Schema['SeatAnswer'];
export type Axis = Schema['MountAxisFile'];

export const torchQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['torch', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/torch', { params: { path: { table_id: tableId } } })),
  });
