import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { answered, api } from '../kit/client';

/** What the sets of the shop are compared for. */
export interface Job {
  metal: string;
  thickness_mm: number;
  table_id: number | null;
  straight_mm: number;
  circle_mm: number;
}

export const chooseQuery = (job: Job) =>
  queryOptions({
    queryKey: ['choose', job],
    queryFn: () => answered(api.GET('/api/choose', { params: { query: job } })),
    placeholderData: keepPreviousData,
  });
