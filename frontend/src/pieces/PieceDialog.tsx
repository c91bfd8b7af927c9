import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import type { ShopUnits } from '../kit/units';
import { AskAcceleration } from './AskAcceleration';
import { type Asked, askedOf, type Chosen, isOwn, isReady, useChosen, useShownSquares } from './asked';
import { ItIsCut } from './ItIsCut';
import { type Kind, KINDS } from './kinds';
import { Needs } from './Needs';
import { OnItsPlate } from './OnItsPlate';
import { OwnParts } from './OwnParts';
import { OwnSetting } from './OwnSetting';
import styles from './piece.module.css';
import { Drawings, Files } from './PieceFiles';
import { PlateChooser } from './PlateChooser';
import { SquaresAtOnce } from './SquaresAtOnce';

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
export function PieceDialog(props: Props) {
  const { trialId, tableId, revision, units, onClose } = props;
  const [chosen, choose] = useChosen(props.begin, tableId);
  const squares = useShownSquares(trialId, chosen.kind === 'square' ? chosen.count : 1);
  const asked = askedOf(chosen, squares);
  const ready = isReady(asked);
  const needs = useNeeds(trialId, revision, asked);
  const answer = ready && needs.isSuccess ? needs.data : undefined;
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
            <OnItsPlate
              trialId={trialId}
              revision={revision}
              asked={asked}
              fits={answer?.does_not_fit === null}
              units={units}
            />
          )}
          {!ready && chosen.kind === 'own_part' && (
            <p className={styles.empty}>Choose one of your parts, or import its drawing.</p>
          )}
        </div>
        <div className={styles.take}>
          <h1 id="piece-title">The piece to cut</h1>
          <WhichPiece chosen={chosen} onChoose={choose} />
          {needs.isError && (
            <Notice kind="refusal" title="It cannot be cut like that">
              {refusalText(needs.error)}
            </Notice>
          )}
          <AtWhat
            chosen={chosen}
            advised={squares?.[0]}
            batch={needs.data?.batch ?? []}
            units={units}
            onChoose={choose}
          />
          <OnTheTable {...props} chosen={chosen} choose={choose} asked={asked} answer={answer} />
          <Button variant="outlined" onClick={onClose}>
            Back to the Bench
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

interface OnTheTableProps extends Props {
  chosen: Chosen;
  choose: (part: Partial<Chosen>) => void;
  asked: Asked;
  answer: Schema['PieceAnswer'] | undefined;
}

/** What it needs of plate and table, and what is done with it: none of it before the table's acceleration is asked for. */
function OnTheTable({ trialId, tableId, units, locked, onClose, ...of }: OnTheTableProps) {
  const { chosen, asked, answer } = of;
  const [unknown, setUnknown] = useState(false);
  const askFirst = answer?.reach.assumed === true && !unknown;
  const fits = answer?.does_not_fit === null;
  return (
    <>
      {answer && <Needs needs={answer} units={units} />}
      {askFirst && (
        <AskAcceleration
          tableId={tableId}
          assumed={answer.reach.acceleration_mm_s2}
          units={units}
          onUnknown={() => setUnknown(true)}
        />
      )}
      <PlateChooser
        tableId={tableId}
        plateId={chosen.plateId}
        spots={answer?.spots ?? []}
        units={units}
        onChoose={(plateId) => of.choose({ plateId })}
      />
      <Acts kind={chosen.kind}>
        {!askFirst && <Files trialId={trialId} asked={asked} off={!fits} />}
        {!askFirst && fits && !locked && isNoted(chosen, asked) && (
          <ItIsCut trialId={trialId} asked={asked} onNoted={onClose} />
        )}
      </Acts>
      {!askFirst && <Drawings trialId={trialId} asked={asked} off={!fits} />}
    </>
  );
}

/** What the piece needs, of plate and of the table; what was needed before stays until the answer is there. */
function useNeeds(trialId: number, revision: number, asked: Asked) {
  return useQuery({
    queryKey: ['piece', trialId, revision, asked],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/piece', {
          params: { path: { trial_id: trialId }, query: asked },
        }),
      ),
    enabled: isReady(asked),
    placeholderData: keepPreviousData,
  });
}

/** One square at the advised setting and on no plate is logged without being noted first. */
const isNoted = (chosen: Chosen, asked: Asked): boolean =>
  chosen.plateId !== null || asked.count > 1 || isOwn(chosen) || chosen.kind !== 'square';

interface Choosing {
  chosen: Chosen;
  onChoose: (part: Partial<Chosen>) => void;
}

/** The kind of piece, with what it tells; of a part of one's own, which. */
function WhichPiece({ chosen, onChoose }: Choosing) {
  return (
    <>
      <Choices
        label="Piece"
        value={chosen.kind}
        choices={KINDS}
        onChoose={(kind) => onChoose({ kind })}
      />
      <p>{KINDS.find((k) => k.value === chosen.kind)?.says}</p>
      {chosen.kind === 'own_part' && (
        <>
          <OwnParts chosen={chosen.ownPartId} onChoose={(ownPartId) => onChoose({ ownPartId })} />
          <Choices
            label="Its round holes"
            value={chosen.fitHoles ? 'fitted' : 'drawn'}
            choices={[
              { value: 'drawn', label: 'as drawn' },
              { value: 'fitted', label: 'so that they come out right' },
            ]}
            onChoose={(how) => onChoose({ fitHoles: how === 'fitted' })}
          />
        </>
      )}
    </>
  );
}

type Batch = Schema['PieceAnswer']['batch'];

interface AtWhatProps extends Choosing {
  advised: Batch[number] | undefined;
  batch: Batch;
  units: ShopUnits;
}

/** How many squares at once, or the setting of the one piece. */
function AtWhat({ chosen, advised, batch, units, onChoose }: AtWhatProps) {
  const { kind, count, own } = chosen;
  const alone = kind !== 'square' || count === 1;
  return (
    <>
      {kind === 'square' && (
        <SquaresAtOnce
          count={count}
          batch={batch}
          units={units}
          onChoose={(many) => onChoose({ count: many })}
        />
      )}
      {advised && alone && kind !== 'strip_ladder' && (
        <OwnSetting
          key={kind}
          advised={advised}
          chosen={own}
          units={units}
          onChoose={(setting) => onChoose({ own: setting })}
        />
      )}
    </>
  );
}

/** What to mind before the arc, with what is done with the piece. */
function Acts({ kind, children }: { kind: Kind; children: ReactNode }) {
  return (
    <div className={styles.acts}>
      <p className={styles.caution}>
        {kind === 'long_strip'
          ? 'Height control is on in this piece: set-point and delay first. '
          : 'Turn height control off for both: some machines turn it on again at program start. '}
        Shade, gloves, extraction and fire watch before the arc; hands at the torch only with the source
        isolated. Your equipment’s manual rules.
      </p>
      {children}
    </div>
  );
}
