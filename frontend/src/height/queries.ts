import { queryOptions } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type SignalPage = Schema['SignalPageAnswer'];
export type Examined = Schema['SignalExamined'];
export type Behaviour = NonNullable<NonNullable<Schema['ObservedFile']['behaviour']>>;

export const signalPageQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['signal-paths', tableId],
    queryFn: () =>
      answered(
        api.GET('/api/tables/{table_id}/signal-paths', { params: { path: { table_id: tableId } } }),
      ),
  });

export interface Typed {
  source: number | null;
  card: number | null;
  multiplier: number | null;
  seenBy: 'volts' | 'torch' | 'nothing';
  trueV: number | null;
  screenV: number | null;
  behaviour: Behaviour | null;
  setPoint: number | null;
  slope: number | null;
  height: number;
}

/** What is typed as a signal path file; null while a number of the path is missing. */
export function fileOf(t: Typed): Schema['SignalPathFile'] | null {
  if (!t.source || !t.card || !t.multiplier || !t.setPoint || !t.slope) return null;
  const volts =
    t.seenBy === 'volts' && t.trueV !== null && t.screenV !== null
      ? { true_v: t.trueV, screen_v: t.screenV }
      : null;
  const torch = t.seenBy === 'torch' && t.behaviour !== null ? { behaviour: t.behaviour } : null;
  return {
    format: 'orthotome.signal_path',
    version: 1,
    source_ratio: t.source,
    card_ratio: t.card,
    multiplier: t.multiplier,
    observed: volts ?? torch,
    set_point_v: t.setPoint,
    slope_v_per_mm: t.slope,
    cut_height_mm: t.height,
  };
}

export const examineQuery = (file: Schema['SignalPathFile'] | null) =>
  queryOptions({
    queryKey: ['signal-path', file],
    queryFn: () => answered(api.POST('/api/signal-path', { body: file as Schema['SignalPathFile'] })),
    enabled: file !== null,
    placeholderData: (before) => before,
    staleTime: Infinity,
  });

export type Line = Schema['LineAnswer'];
export type TrialHeight = Schema['HeightAnswer'];
export type Held = Schema['HeldAnswer'];
export type Recording = Schema['TraceLine'];
export type Trace = Schema['TraceAnswer'];
export type Drawn = Schema['DrawnAnswer'];
export type LoopRun = Schema['LoopRunAnswer'];

export const lineQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['line', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/line', { params: { path: { table_id: tableId } } })),
  });

export const heightQuery = (trialId: number, ahead = 500) =>
  queryOptions({
    queryKey: ['height', trialId, ahead],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/height', {
          params: { path: { trial_id: trialId }, query: { ahead } },
        }),
      ),
    placeholderData: (before) => (before?.trial_id === trialId ? before : undefined),
  });

export const recordingsQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['recordings', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/traces', { params: { path: { table_id: tableId } } })),
    refetchInterval: 5000,
  });

export const traceQuery = (traceId: number) =>
  queryOptions({
    queryKey: ['trace', traceId],
    queryFn: () =>
      answered(api.GET('/api/traces/{trace_id}', { params: { path: { trace_id: traceId } } })),
  });

export const drawnQuery = (traceId: number, begin_s: number, end_s: number, slices: number) =>
  queryOptions({
    queryKey: ['drawn', traceId, begin_s, end_s, slices],
    queryFn: () =>
      answered(
        api.GET('/api/traces/{trace_id}/drawn', {
          params: { path: { trace_id: traceId }, query: { begin_s, end_s, slices } },
        }),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
    enabled: end_s > begin_s,
  });
