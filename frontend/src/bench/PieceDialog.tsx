import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { showLength, showThickness, type ShopUnits } from '../kit/units';
import styles from './piece.module.css';

type Kind = Schema['PieceAnswer']['kind'];

const KINDS: { value: Kind; label: string; says: string }[] = [
  {
    value: 'square',
    label: 'Square',
    says: 'Four directions at one setting: it tells speed and height from a leaning jet, and can prove a setting.',
  },
  {
    value: 'strip_ladder',
    label: 'Speed strips',
    says: 'Speeds in one direction, slot 1 slowest: it finds the dross window. It proves nothing by itself.',
  },
  {
    value: 'height_ladder',
    label: 'Height strips',
    says: 'Heights at one speed, lowest first: bevel and volts against height at the same time.',
  },
  {
    value: 'pierce_ladder',
    label: 'Pierces',
    says: 'One delay a stub: take the shortest that is through every time.',
  },
  {
    value: 'round',
    label: 'Round',
    says: 'A slug with a slit toward Y, cut first: bevel read round it gives the jet’s lean and its direction.',
  },
  {
    value: 'holes',
    label: 'Holes',
    says: 'From one thickness up, at half speed, entered on an arc: hole size, taper and the flat.',
  },
  {
    value: 'corner',
    label: 'Corners',
    says: 'Teeth of 90, 60 and 45 degrees: how height control and acceleration behave in detail.',
  },
  {
    value: 'long_strip',
    label: 'Long strip',
    says: 'For a warped sheet: the one piece that tries height control.',
  },
];

interface Props {
  trialId: number;
  revision: number;
  begin: Kind;
  units: ShopUnits;
  onClose: () => void;
}

/** The next test piece: its drawing, what it needs, its programs, its sheet. */
export function PieceDialog({ trialId, revision, begin, units, onClose }: Props) {
  const [kind, setKind] = useState<Kind>(begin);
  const [plate, setPlate] = useState<{ x: number | null; y: number | null }>({ x: null, y: null });
  const address = `/api/trials/${trialId}/piece`;
  const of = `kind=${kind}`;
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="lg"
      fullWidth
      aria-labelledby="piece-title"
      transitionDuration={0}
    >
      <div className={styles.piece}>
        <div className={styles.drawing}>
          <img
            src={`${address}.svg?${of}&revision=${revision}`}
            alt="Drawing of the piece from above, with its zero, leads and direction of travel"
          />
        </div>
        <div className={styles.take}>
          <h1 id="piece-title">The piece to cut</h1>
          <Choices label="Piece" value={kind} choices={KINDS} onChoose={setKind} />
          <p>{KINDS.find((k) => k.value === kind)?.says}</p>
          <Needs trialId={trialId} kind={kind} plate={plate} units={units} />
          <div className={styles.plate}>
            <PlateField
              label="Scrap there is, along X"
              units={units}
              onRead={(x) => setPlate((before) => ({ ...before, x }))}
            />
            <PlateField
              label="and along Y"
              units={units}
              onRead={(y) => setPlate((before) => ({ ...before, y }))}
            />
          </div>
          <div className={styles.files}>
            <a href={`${address}.nc?${of}&dry_run=true`} download>
              1 Dry run, torch off
            </a>
            <a href={`${address}.nc?${of}`} download>
              2 Program
            </a>
            <a href={`${address}.pdf?${of}`} target="_blank" rel="noreferrer">
              Cut sheet to write on
            </a>
            <a href={`${address}.svg?${of}`} target="_blank" rel="noreferrer">
              Drawing, true scale
            </a>
            <a href={`${address}.dxf?${of}`} download={`trial-${trialId}-${kind}.dxf`}>
              DXF
            </a>
          </div>
          <p className={styles.caution}>
            {kind === 'long_strip'
              ? 'Height control is on in this piece: set-point and delay first. '
              : 'Turn height control off for both: some machines turn it on again at program start. '}
            Shade, gloves, extraction and fire watch before the arc; hands at the torch only with the
            source isolated. Your equipment’s manual rules.
          </p>
          <Button variant="outlined" onClick={onClose}>
            Back to the Bench
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function PlateField({
  label,
  units,
  onRead,
}: {
  label: string;
  units: ShopUnits;
  onRead: (mm: number | null) => void;
}) {
  const unit = units.length_unit === 'thou' ? 'in' : units.length_unit;
  return <QuantityField label={label} quantity="length" unit={unit} onRead={onRead} />;
}

/** What the piece needs of plate and time, and whether it fits what there is. */
function Needs({
  trialId,
  kind,
  plate,
  units,
}: {
  trialId: number;
  kind: Kind;
  plate: { x: number | null; y: number | null };
  units: ShopUnits;
}) {
  const needs = useQuery({
    queryKey: ['piece', trialId, kind, plate],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/piece', {
          params: {
            path: { trial_id: trialId },
            query: { kind, plate_x_mm: plate.x, plate_y_mm: plate.y },
          },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  if (needs.isError) return <Notice kind="refusal">{refusalText(needs.error)}</Notice>;
  if (!needs.data) return null;
  const n = needs.data;
  const [x = 0, y = 0] = n.plate_mm;
  const shown = (mm: number) => showThickness(Math.ceil(mm), units).text;
  return (
    <>
      <p className={styles.needs}>
        Needs{' '}
        <strong>
          {shown(x)} × {shown(y)}
        </strong>{' '}
        {units.length_unit}, {n.pierces} {n.pierces === 1 ? 'pierce' : 'pierces'},{' '}
        <strong>{Math.round(n.seconds)}</strong> s of arc, {showLength(n.cut_length_mm, units).text}{' '}
        {units.length_unit} of cut; written for “{n.profile}”.
      </p>
      {n.does_not_fit !== null && (
        <Notice kind="refusal" title="It does not fit">
          {n.does_not_fit}
        </Notice>
      )}
      {n.does_not_fit === null && plate.x !== null && plate.y !== null && <p>■ It fits that plate.</p>}
    </>
  );
}
