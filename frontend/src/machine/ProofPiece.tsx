import { at } from '../kit/place';
import { keepPreviousData, skipToken, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { queryOf, type Of } from './CutWith';
import styles from './square.module.css';

export type Proof = Schema['ProofAnswer'];
export type ProofName = 'rectangle' | 'circles' | 'zig-zag-x' | 'zig-zag-y';

/** A piece that tells of the machine: what is cut, and its files in the table's own words. */
export function ProofPiece({
  tableId,
  name,
  of,
  more,
  children,
}: {
  tableId: number;
  name: ProofName;
  of: Of;
  more: Readonly<Record<string, number | null>>;
  /** What can be done with it beside cutting it. */
  children?: (proof: Proof) => ReactNode;
}) {
  const proof = useQuery({
    queryKey: ['proof piece', tableId, name, of, more],
    queryFn: tableId
      ? () =>
          answered(
            api.GET('/api/tables/{table_id}/proof-pieces/{name}', {
              params: { path: { table_id: tableId, name }, query: { ...of, ...more } },
            }),
          )
      : skipToken,
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (proof.isError) return <Notice kind="refusal">{refusalText(proof.error)}</Notice>;
  if (!proof.data) return null;
  const dryOnly = name.startsWith('zig-zag');
  const address = (form: string) =>
    at(`/api/tables/${tableId}/proof-pieces/${name}/piece.${form}?${queryOf(of, more)}`);
  return (
    <div className={styles.proof}>
      <p>{proof.data.says}</p>
      <p className={styles.files}>
        {!dryOnly && (
          <a href={address('nc')} download>
            Program
          </a>
        )}
        <a href={address('dry.nc')} download>
          {dryOnly ? 'Program, torch off' : 'Dry run'}
        </a>
        {!dryOnly && (
          <a href={address('pdf')} target="_blank" rel="noreferrer">
            Cut sheet
          </a>
        )}
        {children?.(proof.data)}
      </p>
    </div>
  );
}
