import useMediaQuery from '@mui/material/useMediaQuery';
import type { Bench } from '../kit/client';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import { CombSheet } from './CombSheet';
import { Edges, LiveSection } from './Edges';
import { ItemsSheet } from './ItemsSheet';
import { type Changing, goTo, isComb, labelOf, type Log, VOLTS } from './log';
import styles from './log.module.css';
import { LookCloser } from './LookCloser';
import type { Measured } from './MeasurePhoto';
import { MoreOfIt } from './MoreOfIt';
import { Photos } from './Photos';
import { type Shown, Tabs } from './Tabs';
import { take } from './typing';

/** More readings than these take the height of the picture below them. */
const ROOM_BESIDE_PICTURE = 6;

interface SeenProps extends Omit<Changing, 'change'> {
  bench: Bench;
  shown: Shown;
  onShow: (tab: Shown) => void;
}

/** The tab that is chosen, with the picture of the kerf where there is room for it. */
export function Seen({ bench, log, units, update, shown, onShow }: SeenProps) {
  const narrow = useMediaQuery('(max-width: 1060px)');
  const say = useSay();
  const onEdges = shown === 'edges';
  const measured = (found: Measured) => {
    update((now) => takeMeasured(now, found));
    say({ text: measuredText(found) });
  };
  return (
    <div className={styles.seen}>
      <Tabs log={log} shown={shown} onShow={onShow} />
      {/* Kept while they are not seen: what was typed last may still be read. */}
      <div hidden={shown !== 'more'} className={styles.moreFrame}>
        <MoreOfIt log={log} units={units} change={(to) => update((now) => ({ ...now, ...to }))} />
      </div>
      <div hidden={shown !== 'look'} className={styles.moreFrame}>
        <LookCloser log={log} item={0} asked={log.sheet.looks_whole} units={units} change={update} />
      </div>
      {shown === 'photos' && (
        <Photos
          trialId={bench.trial.id}
          of={log.cutId === null ? { log_key: log.key } : { cut_id: log.cutId }}
          units={units}
          edge={log.at === VOLTS ? undefined : labelOf(log)}
          onMeasured={measured}
        />
      )}
      {shown === 'items' && <Items log={log} units={units} change={update} />}
      {onEdges && <Edges log={log} choose={(at) => update((now) => goTo(now, at))} />}
      {!narrow && onEdges && log.sheet.slots.length <= ROOM_BESIDE_PICTURE && (
        <LiveSection bench={bench} log={log} />
      )}
    </div>
  );
}

interface ItemsProps {
  log: Log;
  units: ShopUnits;
  change: Changing['update'];
}

/** What is looked at one by one: the slots of a comb, or other things. */
function Items(props: ItemsProps) {
  return isComb(props.log) ? <CombSheet {...props} /> : <ItemsSheet {...props} />;
}

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
