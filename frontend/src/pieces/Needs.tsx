import type { Schema } from '../kit/client';
import { Notice } from '../kit/Notice';
import {
  INCHES,
  lengthPer,
  showAlong,
  showLength,
  showSize,
  type ShopUnits,
  withUnit,
} from '../kit/units';
import styles from './piece.module.css';

/** What the piece needs of plate and time, and whether it fits the plate chosen. */
export function Needs({ needs: n, units }: { needs: Schema['PieceAnswer']; units: ShopUnits }) {
  const [x = 0, y = 0] = n.plate_mm;
  const shown = (mm: number) => showSize(mm, units).text;
  const { reach } = n;
  return (
    <>
      <p className={styles.needs}>
        Needs{' '}
        <strong>
          {shown(x)} × {shown(y)}
        </strong>{' '}
        {showSize(x, units).unit} of plate ({areaOf(n.steel_mm2, units)}), {n.pierces}{' '}
        {n.pierces === 1 ? 'pierce' : 'pierces'}, about <strong>{lasting(reach.seconds)}</strong> of
        machine time{reach.fastest_assumed && ' (its rapids are assumed)'},{' '}
        {withUnit(showSize(n.cut_length_mm, units))} of cut; written for “{n.profile}”.{' '}
        {Math.round(100 * reach.share_at_speed)} % of it runs at the speed set
        {reach.assumed
          ? `, if the table accelerates as an ordinary one (${withUnit(showAlong('acceleration', reach.acceleration_mm_s2, units))}): its own is not written down.`
          : ', if the controller stops at corners.'}
        {reach.blind_mm !== null &&
          ` Height control follows after ${showLength(reach.blind_mm, units).text} ${units.length_unit}: until then the torch runs blind.`}
      </p>
      {n.notes.map((note) => (
        <Notice key={note} kind="caution" title="What this machine cannot show">
          {note}
        </Notice>
      ))}
      {n.does_not_fit !== null && (
        <Notice kind="refusal" title="It does not fit">
          {n.does_not_fit}
        </Notice>
      )}
    </>
  );
}

const lasting = (s: number): string => (s < 90 ? `${Math.round(s)} s` : `${(s / 60).toFixed(1)} min`);

/** Steel in the units it is paid in: a square of a centimetre or an inch is fine enough. */
function areaOf(mm2: number, units: ShopUnits): string {
  return units.length_unit === 'mm'
    ? `${Math.round(mm2 / 100)} cm²`
    : `${(mm2 / lengthPer(INCHES) ** 2).toFixed(1)} in²`;
}
