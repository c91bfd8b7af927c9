import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { showLength, showThickness, type ShopUnits } from '../kit/units';
import styles from './piece.module.css';
import { PlateChooser } from './PlateChooser';

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
    value: 'start_end_ladder',
    label: 'Starts and ends',
    says: 'Small squares, one overrun each, numbered with nicks: the shortest that leaves no tab and no flat.',
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
  tableId: number;
  revision: number;
  begin: Kind;
  units: ShopUnits;
  onClose: () => void;
}

/** The next test piece: its drawing, what it needs, its programs, its sheet. */
export function PieceDialog({ trialId, tableId, revision, begin, units, onClose }: Props) {
  const [kind, setKind] = useState<Kind>(begin);
  const remembered = Number(localStorage.getItem(plateKey(tableId))) || null;
  const [plateId, setPlateId] = useState<number | null>(remembered);
  const address = `/api/trials/${trialId}/piece`;
  const of = plateId === null ? `kind=${kind}` : `kind=${kind}&plate_id=${plateId}`;
  const needs = useQuery({
    queryKey: ['piece', trialId, revision, kind, plateId],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/piece', {
          params: { path: { trial_id: trialId }, query: { kind, plate_id: plateId } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const fits = needs.data?.does_not_fit === null;
  const choose = (id: number | null) => {
    setPlateId(id);
    localStorage.setItem(plateKey(tableId), String(id ?? ''));
  };
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
            src={`${address}.svg?kind=${kind}&revision=${revision}`}
            alt="Drawing of the piece from above, with its zero, leads and direction of travel"
          />
        </div>
        <div className={styles.take}>
          <h1 id="piece-title">The piece to cut</h1>
          <Choices label="Piece" value={kind} choices={KINDS} onChoose={setKind} />
          <p>{KINDS.find((k) => k.value === kind)?.says}</p>
          {needs.isError && <Notice kind="refusal">{refusalText(needs.error)}</Notice>}
          {needs.data && <Needs needs={needs.data} units={units} />}
          <PlateChooser
            tableId={tableId}
            plateId={plateId}
            spot={needs.data?.spot ?? null}
            units={units}
            onChoose={choose}
          />
          <div className={styles.files} data-off={!fits}>
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
          {plateId !== null && fits && <ItIsCut trialId={trialId} kind={kind} plateId={plateId} />}
          <Button variant="outlined" onClick={onClose}>
            Back to the Bench
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

/** What the piece needs of plate and time, and whether it fits the plate chosen. */
function Needs({ needs: n, units }: { needs: Schema['PieceAnswer']; units: ShopUnits }) {
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
        <strong>{Math.round(n.real_seconds ?? n.seconds)}</strong> s of arc,{' '}
        {showLength(n.cut_length_mm, units).text} {units.length_unit} of cut; written for “{n.profile}”.
        {n.share_at_speed === null
          ? ' The acceleration of this table is not written down, so how much of it runs at speed is not known.'
          : ` ${Math.round(100 * n.share_at_speed)} % of it runs at the speed set, if the controller stops at corners.`}
      </p>
      {n.does_not_fit !== null && (
        <Notice kind="refusal" title="It does not fit">
          {n.does_not_fit}
        </Notice>
      )}
    </>
  );
}

/** Remembers that the piece was cut from this plate, so that the next one goes beside it. */
function ItIsCut({ trialId, kind, plateId }: { trialId: number; kind: Kind; plateId: number }) {
  const queries = useQueryClient();
  const cut = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/trials/{trial_id}/piece/cut', {
          params: { path: { trial_id: trialId } },
          body: { kind, plate_id: plateId },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['plates'] });
      await queries.invalidateQueries({ queryKey: ['piece'] });
    },
  });
  return (
    <>
      {cut.isError && <Notice kind="refusal">{refusalText(cut.error)}</Notice>}
      <Button variant="contained" disabled={cut.isPending} onClick={() => cut.mutate()}>
        It is cut: its place is taken
      </Button>
    </>
  );
}

const plateKey = (tableId: number): string => `plate of table ${tableId}`;
