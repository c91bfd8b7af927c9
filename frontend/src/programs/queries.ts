import { queryOptions } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type ProgramLine = Schema['ProgramLine'];
export type Program = Schema['ProgramAnswer'];
export type Found = Schema['WorkedOut'];
export type Finding = Schema['Shown'];
export type Asked = Schema['AskedFor'];
export type Stroke = Schema['Stroke'];
export type ContourLine = Schema['ContourReport'];
export type Way = Schema['WayAnswer'];
export type SetWays = Schema['SetWays'];
export type Offer = Schema['SettingOffer'];

export const programsQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['programs', tableId],
    queryFn: () =>
      answered(api.GET('/api/tables/{table_id}/programs', { params: { path: { table_id: tableId } } })),
  });

export const programQuery = (programId: number) =>
  queryOptions({
    queryKey: ['program', programId],
    queryFn: () =>
      answered(api.GET('/api/programs/{program_id}', { params: { path: { program_id: programId } } })),
    refetchInterval: 30_000, // whether anything moved since; a long program's picture is not small
  });

export const waysQuery = (programId: number) =>
  queryOptions({
    queryKey: ['program', programId, 'ways'],
    queryFn: () =>
      answered(
        api.GET('/api/programs/{program_id}/ways', { params: { path: { program_id: programId } } }),
      ),
  });

export type HoleOut = Schema['HoleComesOut'];

/** How its holes come out, by the shop's hole table. */
export const holesQuery = (programId: number, version: number) =>
  queryOptions({
    queryKey: ['program', programId, 'holes', version],
    queryFn: () =>
      answered(
        api.GET('/api/programs/{program_id}/holes', { params: { path: { program_id: programId } } }),
      ),
  });

export const offersQuery = (tableId: number) =>
  queryOptions({
    queryKey: ['program settings', tableId],
    queryFn: () =>
      answered(
        api.GET('/api/tables/{table_id}/program-settings', { params: { path: { table_id: tableId } } }),
      ),
  });

/** How grave a finding is, in a word and a shape beside its colour. */
export const GRAVITY = {
  stop: { word: 'Stop', sign: '■' },
  look: { word: 'Look', sign: '▲' },
  note: { word: 'Note', sign: '●' },
} as const;
