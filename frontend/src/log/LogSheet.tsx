import Dialog from '@mui/material/Dialog';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Bench } from '../kit/client';
import { Doubt } from '../kit/Doubt';
import { Notice } from '../kit/Notice';
import { useStillReading } from '../kit/reading';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import { AsCut } from './AsCut';
import { ByThumb } from './ByThumb';
import { Conflict } from './Conflict';
import { FromRecording } from './FromRecording';
import { useKeys } from './keys';
import { anythingTyped, type Changing, goTo, isComb, type Log, VOLTS } from './log';
import styles from './log.module.css';
import { missingText } from './missing';
import { draftKey, keepHere, throwAway } from './openLog';
import { Questions } from './Questions';
import { useSaveLog } from './saveLog';
import { Seen } from './Seen';
import { type Shown, tabsOf } from './Tabs';
import { erase } from './typing';
import { Underside } from './Underside';
import { WhatWasCut } from './WhatWasCut';

interface Props {
  bench: Bench;
  units: ShopUnits;
  start: Log;
  onClose: () => void;
}

/** Turn it over and log it: gloved thumb on a keypad, the kerf drawn as it is typed. */
export function LogSheet({ bench, units, start, onClose }: Props) {
  const trialId = bench.trial.id;
  const [log, setLog] = useState(start);
  const reading = useStillReading();
  const latest = useRef(log);
  useEffect(() => {
    latest.current = log;
  });
  const save = useSaveLog(bench, log, setLog, onClose);
  const change = (to: Log) => {
    if (to.cutId === null) keepHere(trialId, anythingTyped(to) ? to : null);
    setLog(to);
  };
  const update = (to: (now: Log) => Log) => change(to(latest.current));
  const [chosen, setShown] = useState<Shown | null>(null);
  const shown = shownOf(log, chosen);
  useKeys(log, change, {
    save: () => {
      if (!reading) save.save();
    },
    toEdges: () => {
      if (bodyOf(latest.current) === 'edges') setShown('edges');
    },
  });
  const putRight = (field: string) => {
    save.forget();
    if (field === 'arc_voltage_v') update((now) => erase(goTo(now, VOLTS)));
    else setShown(tabOf(field));
  };
  const discard = useThrowAway(trialId, onClose);
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="log-title" transitionDuration={0}>
      <div className={styles.sheet}>
        <Head
          trialId={trialId}
          log={log}
          units={units}
          change={change}
          update={update}
          onDiscard={discard}
          onClose={onClose}
        />
        <div className={styles.body} data-kind={layoutOf(log, shown)}>
          <Seen bench={bench} log={log} units={units} update={update} shown={shown} onShow={setShown} />
          {shown === 'edges' && (
            <ByThumb
              log={log}
              trialId={trialId}
              units={units}
              change={change}
              onToPhotos={() => setShown('photos')}
            />
          )}
          {bodyOf(log) !== 'comb' && log.sheet.underside && <Underside log={log} change={change} />}
        </div>
        <FromRecording trialId={trialId} log={log} change={update} />
        {log.cutId === null && !save.refused && bodyOf(log) === 'edges' && (
          <Questions trialId={trialId} log={log} change={change} />
        )}
        <Saving log={log} save={save} onPutRight={putRight} onClose={onClose} />
      </div>
    </Dialog>
  );
}

/** The tab that was chosen, while the piece has it. */
function shownOf(log: Log, chosen: Shown | null): Shown {
  const tabs = tabsOf(log);
  return tabs.find((t) => t === chosen) ?? tabs[0] ?? 'more';
}

/** Where what was doubted or refused is typed. */
function tabOf(field: string): Shown {
  if (field.startsWith('strips.')) return 'items';
  return field === 'edges' ? 'edges' : 'more';
}

/** Throws the half-typed log away, with a way back. */
function useThrowAway(trialId: number, onClose: () => void): () => void {
  const say = useSay();
  const queries = useQueryClient();
  return () => {
    const refresh = () => queries.invalidateQueries({ queryKey: draftKey(trialId) });
    void throwAway(trialId).then(async (restore) => {
      await refresh();
      say({ text: 'Thrown away.', undo: () => void restore().then(refresh) });
      onClose();
    });
  };
}

interface HeadProps extends Changing {
  trialId: number;
  onDiscard: () => void;
  onClose: () => void;
}

/** What is read, as what it was cut, and the ways out. */
function Head({ trialId, log, units, change, update, onDiscard, onClose }: HeadProps) {
  const correcting = log.cutId !== null;
  const begun = anythingTyped(log);
  return (
    <header>
      <h1 id="log-title">{titleOf(log)}</h1>
      <AsCut log={log} units={units} change={(to) => update((now) => ({ ...now, ...to }))} />
      {!correcting && log.number === null && <WhatWasCut trialId={trialId} log={log} change={change} />}
      {!correcting && begun && (
        <button type="button" onClick={onDiscard}>
          Throw it away
        </button>
      )}
      <button type="button" onClick={onClose}>
        {leaveText(correcting, begun)}
      </button>
    </header>
  );
}

function titleOf(log: Log): string {
  if (log.cutId !== null) return 'Correct the cut';
  if (isComb(log)) return 'Turn the strips over';
  return log.number ? `Turn piece ${log.number} over` : 'Turn it over';
}

function leaveText(correcting: boolean, begun: boolean): string {
  if (correcting) return 'Leave it';
  return begun ? 'Later: keep what is typed' : 'Later';
}

interface SavingProps {
  log: Log;
  save: ReturnType<typeof useSaveLog>;
  onPutRight: (field: string) => void;
  onClose: () => void;
}

/** What stands against saving it, and the button. */
function Saving({ log, save, onPutRight, onClose }: SavingProps) {
  const reading = useStillReading();
  return (
    <>
      {save.conflict && (
        <Conflict theirs={save.conflict} log={log} onTheirs={onClose} onMine={save.saveOver} />
      )}
      {save.elsewhere && <Notice kind="note">{save.elsewhere}</Notice>}
      {save.refused && !save.conflict && (
        <Doubt error={save.refused} onInsist={save.insist} onPutRight={onPutRight} />
      )}
      <footer>
        <span>{missingText(log, reading)}</span>
        <button
          type="button"
          className={styles.save}
          disabled={save.saving || reading}
          onClick={save.save}
        >
          {saveText(log)}
        </button>
      </footer>
    </>
  );
}

function saveText(log: Log): string {
  if (log.cutId !== null) return 'Save the correction';
  return isComb(log) ? 'Save the strips' : 'Save the cut';
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
