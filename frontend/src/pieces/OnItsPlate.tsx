import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import type { ShopUnits } from '../kit/units';
import type { Asked } from './asked';
import { PiecePlayer } from './PiecePlayer';

/** The path on the plate chosen; while it does not fit there, on the least plate it needs. */
export function OnItsPlate({
  trialId,
  revision,
  asked,
  fits,
  units,
}: {
  trialId: number;
  revision: number;
  asked: Asked;
  fits: boolean;
  units: ShopUnits;
}) {
  const query = fits ? asked : { ...asked, plate_id: null };
  const played = useQuery({
    queryKey: ['piece', 'played', trialId, revision, query],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/piece/played', {
          params: { path: { trial_id: trialId }, query },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  if (!played.isSuccess) return null;
  return <PiecePlayer key={JSON.stringify(query)} played={played.data} units={units} />;
}
