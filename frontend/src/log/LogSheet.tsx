import Dialog from '@mui/material/Dialog';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useEffect, useRef, useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { Doubt } from '../kit/Doubt';
import { Notice } from '../kit/Notice';
import { useStillReading } from '../kit/reading';
import { showDegrees, type ShopUnits } from '../kit/units';
import { AsCut } from './AsCut';
import { Keypad } from './Keypad';
import { anythingTyped, bevelOf, goTo, isComb, methodOf, VOLTS, type Log } from './log';
import { digit, erase, leansUnder, next, onceMore, sign, take, tenfold } from './typing';
import styles from './log.module.css';
import { Conflict } from './Conflict';
import { Edges, LiveSection } from './Edges';
import { useKeys } from './keys';
import { missingText } from './missing';
import { Tabs, tabsOf, type Shown } from './Tabs';
import { Underside } from './Underside';
import type { Bench } from '../kit/client';
import { draftKey, keepHere, throwAway } from './openLog';
import { CombSheet } from './CombSheet';
import { FromRecording } from './FromRecording';
import { ItemsSheet } from './ItemsSheet';
import { LookCloser } from './LookCloser';
import type { Measured } from './MeasurePhoto';
import { Lengths, MethodBar } from './MethodBar';
import { MoreOfIt } from './MoreOfIt';
import { Photos } from './Photos';
import { Questions } from './Questions';
import { useSay } from '../kit/undo';
import { WhatWasCut } from './WhatWasCut';
import { useSaveLog } from './saveLog';

interface Props {
  bench: Bench;
  units: ShopUnits;
  start: Log;
  onClose: () => void;
}

/** Turn it over and log it: gloved thumb on a keypad, the kerf drawn as it is typed. */
export function LogSheet({ bench, units, start, onClose }: Props) {
  const { trial } = bench;
  const [log, setLog] = useState(start);
  const reading = useStillReading();
  const latest = useRef(log);
  useEffect(() => {
    latest.current = log;
  });
  const save = useSaveLog(bench, log, setLog, onClose);
  const narrow = useMediaQuery('(max-width: 1060px)');
  const change = (to: Log) => {
    if (to.cutId === null) keepHere(trial.id, anythingTyped(to) ? to : null);
    setLog(to);
  };
  const correcting = log.cutId !== null;
  const update = (to: (now: Log) => Log) => change(to(latest.current));
  const [chosen, setShown] = useState<Shown | null>(null);
  const shown = tabsOf(log).find((t) => t === chosen) ?? tabsOf(log)[0] ?? 'more';
  useKeys(log, change, {
    save: () => {
      if (!reading) save.save();
    },
    toEdges: () => {
      if (bodyOf(latest.current) === 'edges') setShown('edges');
    },
  });
  const putRight = (field: string) => {
    const now = latest.current;
    save.forget();
    if (field === 'arc_voltage_v') change(erase(goTo(now, VOLTS)));
    else if (field.startsWith('strips.')) setShown('items');
    else setShown(field === 'edges' ? 'edges' : 'more');
  };
  const say = useSay();
  const queries = useQueryClient();
  const discard = () => {
    const refresh = () => queries.invalidateQueries({ queryKey: draftKey(trial.id) });
    void throwAway(trial.id).then(async (restore) => {
      await refresh();
      say({ text: 'Thrown away.', undo: () => void restore().then(refresh) });
      onClose();
    });
  };
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="log-title" transitionDuration={0}>
      <div className={styles.sheet}>
        <header>
          <h1 id="log-title">
            {correcting
              ? 'Correct the cut'
              : isComb(log)
                ? 'Turn the strips over'
                : log.number
                  ? `Turn piece ${log.number} over`
                  : 'Turn it over'}
          </h1>
          <AsCut log={log} units={units} change={(to) => change({ ...latest.current, ...to })} />
          {!correcting && log.number === null && (
            <WhatWasCut trialId={trial.id} log={log} change={change} />
          )}
          {!correcting && anythingTyped(log) && (
            <button type="button" onClick={discard}>
              Throw it away
            </button>
          )}
          <button type="button" onClick={onClose}>
            {correcting ? 'Leave it' : anythingTyped(log) ? 'Later: keep what is typed' : 'Later'}
          </button>
        </header>
        <div className={styles.body} data-kind={layoutOf(log, shown)}>
          <div className={styles.seen}>
            <Tabs log={log} shown={shown} onShow={setShown} />
            {/* Kept while they are not seen: what was typed last may still be read. */}
            <div hidden={shown !== 'more'} className={styles.moreFrame}>
              <MoreOfIt log={log} units={units} change={(to) => change({ ...latest.current, ...to })} />
            </div>
            <div hidden={shown !== 'look'} className={styles.moreFrame}>
              <LookCloser
                log={log}
                item={0}
                asked={log.sheet.looks_whole}
                units={units}
                change={update}
              />
            </div>
            {shown === 'photos' && (
              <Photos
                trialId={trial.id}
                of={log.cutId === null ? { log_key: log.key } : { cut_id: log.cutId }}
                units={units}
                edge={log.at === VOLTS ? undefined : labelOf(log)}
                onMeasured={(measured) => {
                  update((now) => takeMeasured(now, measured));
                  say({ text: measuredText(measured) });
                }}
              />
            )}
            {shown === 'items' &&
              (isComb(log) ? (
                <CombSheet log={log} units={units} change={update} />
              ) : (
                <ItemsSheet log={log} units={units} change={update} />
              ))}
            {shown === 'edges' && <Edges log={log} choose={(at) => change(goTo(latest.current, at))} />}
            {!narrow && shown === 'edges' && log.sheet.slots.length <= ROOM_BESIDE_PICTURE && (
              <LiveSection bench={bench} log={log} />
            )}
          </div>
          {shown === 'edges' && (
            <div className={styles.keypad}>
              <MethodBar log={log} change={change} />
              {onPhoto(log) ? (
                <div className={styles.lengths}>
                  <p className={styles.reading}>
                    <span>{labelOf(log)}</span>
                    <output className="number">{typed(log) || '–'}</output>
                  </p>
                  <p className={styles.hint}>{methodOf(log)?.mind}</p>
                  <button type="button" onClick={() => setShown('photos')}>
                    To the photos
                  </button>
                </div>
              ) : byLengths(log) ? (
                <Lengths
                  log={log}
                  trialId={trial.id}
                  units={units}
                  label={labelOf(log)}
                  change={change}
                />
              ) : (
                <Keypad
                  at={log.at === VOLTS ? 'volts' : 'bevel'}
                  value={log.at === VOLTS ? log.volts : typed(log)}
                  label={labelOf(log)}
                  negative={leansUnder(log)}
                  onDigit={(d) => change(digit(log, d))}
                  onSign={(negative) => change(sign(log, negative))}
                  onErase={() => change(erase(log))}
                  onNext={() => change(next(log))}
                  onTenfold={() => change(tenfold(log))}
                  onAgain={() => change(onceMore(log))}
                />
              )}
            </div>
          )}
          {bodyOf(log) !== 'comb' && log.sheet.underside && <Underside log={log} change={change} />}
        </div>
        <FromRecording trialId={trial.id} log={log} change={update} />
        {!correcting && !save.refused && bodyOf(log) === 'edges' && (
          <Questions trialId={trial.id} log={log} change={change} />
        )}
        {save.conflict && (
          <Conflict theirs={save.conflict} log={log} onTheirs={onClose} onMine={save.saveOver} />
        )}
        {save.elsewhere && <Notice kind="note">{save.elsewhere}</Notice>}
        {save.refused && !save.conflict && (
          <Doubt error={save.refused} onInsist={save.insist} onPutRight={putRight} />
        )}
        <footer>
          <span>{missingText(log, reading)}</span>
          <button
            type="button"
            className={styles.save}
            disabled={save.saving || reading}
            onClick={save.save}
          >
            {correcting ? 'Save the correction' : isComb(log) ? 'Save the strips' : 'Save the cut'}
          </button>
        </footer>
      </div>
    </Dialog>
  );
}

/** How the sheet is laid out: round edges to read, a comb of slots, or things to look at one by one. */
function bodyOf(log: Log): 'edges' | 'comb' | 'items' {
  if (isComb(log)) return 'comb';
  return log.sheet.slots.length > 0 ? 'edges' : 'items';
}

/** Three columns beside a keypad, two beside the underside, or one. */
function layoutOf(log: Log, shown: Shown): 'edges' | 'items' | 'comb' {
  if (shown === 'edges') return 'edges';
  return log.sheet.underside && !isComb(log) ? 'items' : 'comb';
}

const byLengths = (log: Log): boolean => log.at !== VOLTS && methodOf(log)?.unit === 'mm';

const onPhoto = (log: Log): boolean => log.at !== VOLTS && methodOf(log)?.unit === 'px';

function takeMeasured(log: Log, measured: Measured): Log {
  const { what, deg, u_deg: u, mm } = measured;
  if (what === 'kerf') return { ...log, kerf_mm: mm ?? log.kerf_mm };
  if (typeof deg !== 'number') return log;
  if (what === 'lag') return { ...log, lag_deg: Math.round(deg * 10) / 10 };
  if (log.at === VOLTS) return log;
  return take(log, { bevel_deg: deg, u_deg: u ?? 1, method: 'photo', told: 'tapped on a photo' });
}

function measuredText({ what }: Measured): string {
  return what === 'bevel'
    ? 'The bevel is taken from the photo.'
    : `The ${what} is taken from the photo.`;
}

/** More readings than these take the height of the picture below them. */
const ROOM_BESIDE_PICTURE = 6;

function typed(log: Log): string {
  const entry = log.edges[log.at];
  if (entry?.typed !== undefined) return `${entry.negative ? '−' : '+'}${entry.typed}°`;
  const bevel = bevelOf(entry);
  return bevel === null ? '' : showDegrees(bevel);
}

function labelOf(log: Log): string {
  if (log.at === VOLTS) return 'Arc voltage seen, steady';
  return log.sheet.slots.find((s) => s.key === log.at)?.label ?? '';
}
