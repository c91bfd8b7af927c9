import { at, ownKey } from '../kit/place';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import {
  showAlong,
  showLength,
  showSize,
  withUnit,
  type ShopUnits,
  lengthPer,
  INCHES,
} from '../kit/units';
import { AskAcceleration } from './AskAcceleration';
import { OwnParts } from './OwnParts';
import { OwnSetting, type Setting } from './OwnSetting';
import styles from './piece.module.css';
import { PiecePlayer } from './PiecePlayer';
import { PlateChooser } from './PlateChooser';
import { SquaresAtOnce } from './SquaresAtOnce';

type Kind = Schema['PieceAnswer']['kind'];

const KINDS: { value: Kind; label: string; says: string }[] = [
  {
    value: 'square',
    label: 'Square',
    says: 'Four directions at one setting: it tells speed and height from a leaning jet, and can prove a setting. A bar of scrap comes loose with it: its near edge is the other side of the far cut.',
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
    says: 'Small squares numbered with nicks, one thing different in each: lead-in, overrun, slowed end. Take the shortest that leaves no tab and no flat.',
  },
  {
    value: 'round',
    label: 'Round',
    says: 'A slug with a slit at its far right, cut first: bevel read round it gives the jet’s lean and its direction.',
  },
  {
    value: 'holes',
    label: 'Holes',
    says: 'From one thickness up, at half speed, entered on an arc: hole size, taper and the flat.',
  },
  {
    value: 'corner',
    label: 'Corners',
    says: 'Teeth of 90, 60 and 45 degrees and a zig-zag that grows shorter: from which length on the machine no longer comes to speed.',
  },
  {
    value: 'long_strip',
    label: 'Long strip',
    says: 'For a warped sheet: the one piece that tries height control. It is held over the short ends.',
  },
  {
    value: 'own_part',
    label: 'A part of your own',
    says: 'Its closed contours from a DXF or SVG drawing: kerf, leads, order and direction are added.',
  },
];

interface Props {
  trialId: number;
  tableId: number;
  revision: number;
  begin: Kind;
  units: ShopUnits;
  /** A recipe: what is cut at it is checked against it, and waits on no Bench. */
  locked?: boolean;
  onClose: () => void;
}

/** The next test piece: played on its plate, what it needs, its programs, its sheet. */
export function PieceDialog({
  trialId,
  tableId,
  revision,
  begin,
  units,
  locked = false,
  onClose,
}: Props) {
  const [kind, setKind] = useState<Kind>(begin);
  const [count, setCount] = useState(1);
  const [fitHoles, setFitHoles] = useState(false);
  const [ownPartId, setOwnPartId] = useState<number | null>(null);
  const remembered = Number(localStorage.getItem(plateKey(tableId))) || null;
  const [plateId, setPlateId] = useState<number | null>(remembered);
  const [own, setOwn] = useState<Setting | null>(null);
  const [unknown, setUnknown] = useState(false);
  const shown = useShownSquares(trialId, kind === 'square' ? count : 1);
  const mine = own !== null && (kind !== 'square' || count === 1);
  const advised = shown.batch?.[0];
  const asked: Asked = {
    kind,
    plate_id: plateId,
    count: kind === 'square' ? count : 1,
    own_part_id: kind === 'own_part' ? ownPartId : null,
    fit_holes: kind === 'own_part' && fitHoles,
    settings: mine ? said([own]) : kind === 'square' && shown.batch ? said(shown.batch) : null,
    first: kind === 'square' ? (shown.batch?.[0]?.number ?? null) : null,
  };
  const ready = kind === 'own_part' ? ownPartId !== null : kind !== 'square' || asked.settings !== null;
  const needs = useQuery({
    queryKey: ['piece', trialId, revision, asked],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/piece', {
          params: { path: { trial_id: trialId }, query: asked },
        }),
      ),
    enabled: ready,
    placeholderData: keepPreviousData,
  });
  const fits = ready && needs.isSuccess && needs.data.does_not_fit === null;
  const askFirst = needs.isSuccess && needs.data.reach.assumed && !unknown;
  const choosePlate = (id: number | null) => {
    setPlateId(id);
    localStorage.setItem(plateKey(tableId), String(id ?? ''));
  };
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="xl"
      fullWidth
      aria-labelledby="piece-title"
      transitionDuration={0}
    >
      <div className={styles.piece}>
        <div className={styles.drawing}>
          {ready && (
            <OnItsPlate trialId={trialId} revision={revision} asked={asked} fits={fits} units={units} />
          )}
          {!ready && kind === 'own_part' && (
            <p className={styles.empty}>Choose one of your parts, or import its drawing.</p>
          )}
        </div>
        <div className={styles.take}>
          <h1 id="piece-title">The piece to cut</h1>
          <Choices label="Piece" value={kind} choices={KINDS} onChoose={setKind} />
          <p>{KINDS.find((k) => k.value === kind)?.says}</p>
          {kind === 'own_part' && (
            <>
              <OwnParts chosen={ownPartId} onChoose={setOwnPartId} />
              <Choices
                label="Its round holes"
                value={fitHoles ? 'fitted' : 'drawn'}
                choices={[
                  { value: 'drawn', label: 'as drawn' },
                  { value: 'fitted', label: 'so that they come out right' },
                ]}
                onChoose={(how) => setFitHoles(how === 'fitted')}
              />
            </>
          )}
          {needs.isError && (
            <Notice kind="refusal" title="It cannot be cut like that">
              {refusalText(needs.error)}
            </Notice>
          )}
          {kind === 'square' && (
            <SquaresAtOnce
              count={count}
              batch={needs.data?.batch ?? []}
              units={units}
              onChoose={setCount}
            />
          )}
          {advised && (kind !== 'square' || count === 1) && kind !== 'strip_ladder' && (
            <OwnSetting key={kind} advised={advised} chosen={own} units={units} onChoose={setOwn} />
          )}
          {ready && needs.isSuccess && <Needs needs={needs.data} units={units} />}
          {askFirst && (
            <AskAcceleration
              tableId={tableId}
              assumed={needs.data.reach.acceleration_mm_s2}
              units={units}
              onUnknown={() => setUnknown(true)}
            />
          )}
          <PlateChooser
            tableId={tableId}
            plateId={plateId}
            spots={ready ? (needs.data?.spots ?? []) : []}
            units={units}
            onChoose={choosePlate}
          />
          <div className={styles.acts}>
            <p className={styles.caution}>
              {kind === 'long_strip'
                ? 'Height control is on in this piece: set-point and delay first. '
                : 'Turn height control off for both: some machines turn it on again at program start. '}
              Shade, gloves, extraction and fire watch before the arc; hands at the torch only with the
              source isolated. Your equipment’s manual rules.
            </p>
            {!askFirst && <Files trialId={trialId} asked={asked} off={!fits} />}
            {!locked &&
              (plateId !== null || asked.count > 1 || mine || kind !== 'square') &&
              fits &&
              !askFirst && <ItIsCut trialId={trialId} asked={asked} onNoted={onClose} />}
          </div>
          {!askFirst && <Drawings trialId={trialId} asked={asked} off={!fits} />}
          <Button variant="outlined" onClick={onClose}>
            Back to the Bench
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

interface Asked {
  kind: Kind;
  plate_id: number | null;
  count: number;
  own_part_id: number | null;
  fit_holes: boolean;
  settings: string | null;
  first: number | null;
}

/**
 * The settings and numbers of the squares, asked once: what is programmed, cut and noted is what was
 * shown here, also where another screen logs a cut while this one is at the table.
 */
function useShownSquares(
  trialId: number,
  count: number,
): { batch: Schema['PieceAnswer']['batch'] | undefined } {
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
  return { batch: once.data?.batch };
}

const said = (settings: readonly Setting[]): string =>
  settings.map((s) => `${s.speed_mm_min}@${s.cut_height_mm}`).join(',');

/** The path on the plate chosen; while it does not fit there, on the least plate it needs. */
function OnItsPlate({
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

interface FilesProps {
  trialId: number;
  asked: Asked;
  off: boolean;
}

/** Where the files of a piece are, and what was asked of it. */
function filesOf({ trialId, asked }: FilesProps): { address: string; of: string } {
  const given = Object.entries(asked).filter(([, value]) => value !== null);
  const of = new URLSearchParams(given.map(([name, value]) => [name, String(value)])).toString();
  return { address: at(`/api/trials/${trialId}/piece`), of };
}

/** The programs, for a memory stick. */
function Files(props: FilesProps) {
  const { address, of } = filesOf(props);
  const { off } = props;
  return (
    <div className={styles.files} data-off={off}>
      <a href={`${address}.nc?${of}&dry_run=true`} download>
        1 Dry run, torch off
      </a>
      <a href={`${address}.nc?${of}`} download>
        2 Program
      </a>
    </div>
  );
}

/** The sheet and the drawings, for a printer. */
function Drawings(props: FilesProps) {
  const { address, of } = filesOf(props);
  const { trialId, asked, off } = props;
  return (
    <div className={styles.files} data-off={off}>
      <a href={`${address}.pdf?${of}`} target="_blank" rel="noreferrer">
        Cut sheet to write on
      </a>
      <a href={`${address}.svg?${of}`} target="_blank" rel="noreferrer">
        Drawing, true scale
      </a>
      <a href={`${address}.dxf?${of}`} download={`trial-${trialId}-${asked.kind}.dxf`}>
        DXF
      </a>
    </div>
  );
}

/** What the piece needs of plate and time, and whether it fits the plate chosen. */
function Needs({ needs: n, units }: { needs: Schema['PieceAnswer']; units: ShopUnits }) {
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

/** Remembers what was cut: its place on the plate is taken, and squares wait on the Bench to be read. */
function ItIsCut({ trialId, asked, onNoted }: { trialId: number; asked: Asked; onNoted: () => void }) {
  const queries = useQueryClient();
  const say = useSay();
  const refresh = async () => {
    await queries.invalidateQueries({ queryKey: ['plates'] });
    await queries.invalidateQueries({ queryKey: ['piece'] });
    await queries.invalidateQueries({ queryKey: revisionQuery(trialId).queryKey });
  };
  const cut = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/trials/{trial_id}/piece/cut', {
          params: { path: { trial_id: trialId } },
          body: asked,
        }),
      ),
    onSuccess: async (noted) => {
      say({
        text: 'Cut: turn it over and read it.',
        undo: () => {
          void Promise.all([
            ...noted.waiting.map((id) =>
              api.PUT('/api/planned-cuts/{planned_id}/struck', { params: { path: { planned_id: id } } }),
            ),
          ]).then(refresh);
        },
      });
      await refresh();
      onNoted();
    },
  });
  return (
    <>
      {cut.isError && <Notice kind="refusal">{refusalText(cut.error)}</Notice>}
      <Button variant="contained" disabled={cut.isPending} onClick={() => cut.mutate()}>
        {asked.count > 1 ? 'They are cut: read them next' : 'It is cut'}
      </Button>
    </>
  );
}

const plateKey = (tableId: number): string => ownKey(`plate of table ${tableId}`);
