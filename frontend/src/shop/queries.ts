import { queryOptions } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';

export type Backup = Schema['BackupAnswer'];
export type Person = Schema['PersonAnswer'];

export const backupsQuery = queryOptions({
  queryKey: ['backups'],
  queryFn: () => answered(api.GET('/api/backups')),
});

export const peopleQuery = queryOptions({
  queryKey: ['people'],
  queryFn: () => answered(api.GET('/api/people')),
});

export const devicesQuery = queryOptions({
  queryKey: ['devices'],
  queryFn: () => answered(api.GET('/api/devices')),
  refetchInterval: 4000,
});

export const networkQuery = queryOptions({
  queryKey: ['network'],
  queryFn: () => answered(api.GET('/api/network')),
});

/** The code as it lives; asked again, so that the screen says when it was used or grew old. */
export const pairingQuery = queryOptions({
  queryKey: ['pairing'],
  queryFn: () => answered(api.GET('/api/pairing')),
  refetchInterval: 2000,
});

/** When something was, as a person says it: the day, and the time of it. */
export const when = (at: string): string =>
  new Date(at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
