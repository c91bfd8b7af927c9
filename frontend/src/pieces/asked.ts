import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { ownKey } from '../kit/place';
import type { Kind } from './kinds';
import type { Setting } from './OwnSetting';

/** What is asked of the server of a piece: its programs, its sheet, and what is noted as cut. */
export interface Asked {
  kind: Kind;
  plate_id: number | null;
  count: number;
  own_part_id: number | null;
  fit_holes: boolean;
  settings: string | null;
  first: number | null;
}

/** A piece as it is chosen in the dialog, and what is asked of it. */
export interface Chosen {
  kind: Kind;
  count: number;
  fitHoles: boolean;
  ownPartId: number | null;
  plateId: number | null;
  /** Speed and height of the operator's own. */
  own: Setting | null;
}

/** What is chosen, and the means to choose otherwise; the plate is remembered for the table. */
export function useChosen(begin: Kind, tableId: number): [Chosen, (part: Partial<Chosen>) => void] {
  const [chosen, setChosen] = useState<Chosen>(() => ({
    kind: begin,
    count: 1,
    fitHoles: false,
    ownPartId: null,
    plateId: Number(localStorage.getItem(plateKey(tableId))) || null,
    own: null,
  }));
  const choose = (part: Partial<Chosen>) => {
    setChosen((before) => ({ ...before, ...part }));
    if (part.plateId !== undefined) localStorage.setItem(plateKey(tableId), String(part.plateId ?? ''));
  };
  return [chosen, choose];
}

const plateKey = (tableId: number): string => ownKey(`plate of table ${tableId}`);

type Batch = Schema['PieceAnswer']['batch'];

/** Whether it is cut at the operator's own setting: one piece is, several squares are not. */
export const isOwn = ({ kind, count, own }: Chosen): boolean =>
  own !== null && (kind !== 'square' || count === 1);

/** What is asked of a piece; settings of squares are those that were shown. */
export function askedOf(chosen: Chosen, batch: Batch | undefined): Asked {
  const { kind, plateId, ownPartId, fitHoles, own } = chosen;
  const squares = kind === 'square' ? batch : undefined;
  const settings = own !== null && isOwn(chosen) ? [own] : squares;
  return {
    kind,
    plate_id: plateId,
    count: kind === 'square' ? chosen.count : 1,
    own_part_id: kind === 'own_part' ? ownPartId : null,
    fit_holes: kind === 'own_part' && fitHoles,
    settings: settings ? said(settings) : null,
    first: squares?.[0]?.number ?? null,
  };
}

/** Whether enough is chosen to ask for it. */
export function isReady({ kind, own_part_id: ownPart, settings }: Asked): boolean {
  if (kind === 'own_part') return ownPart !== null;
  return kind !== 'square' || settings !== null;
}

/**
 * The settings and numbers of the squares, asked once: what is programmed, cut and noted is what was
 * shown here, also where another screen logs a cut while this one is at the table.
 */
export function useShownSquares(trialId: number, count: number): Batch | undefined {
  const [opened] = useState(() => Date.now());
  const once = useQuery({
    queryKey: ['squares to cut', trialId, opened, count],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/piece', {
          params: { path: { trial_id: trialId }, query: { kind: 'square', count } },
        }),
      ),
    enabled: count > 0,
    staleTime: Infinity,
  });
  return once.data?.batch;
}

const said = (settings: readonly Setting[]): string =>
  settings.map((s) => `${s.speed_mm_min}@${s.cut_height_mm}`).join(',');
