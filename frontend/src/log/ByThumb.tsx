import { showDegrees, type ShopUnits } from '../kit/units';
import { Keypad } from './Keypad';
import { bevelOf, labelOf, type Log, methodOf, VOLTS } from './log';
import styles from './log.module.css';
import { Lengths, MethodBar } from './MethodBar';
import { digit, erase, leansUnder, next, onceMore, sign, tenfold } from './typing';

interface ByThumbProps {
  log: Log;
  trialId: number;
  units: ShopUnits;
  change: (to: Log) => void;
  onToPhotos: () => void;
}

/** The reading that is typed: by degrees, by lengths, or taken from a photo. */
export function ByThumb({ log, trialId, units, change, onToPhotos }: ByThumbProps) {
  return (
    <div className={styles.keypad}>
      <MethodBar log={log} change={change} />
      {onPhoto(log) && (
        <div className={styles.lengths}>
          <p className={styles.reading}>
            <span>{labelOf(log)}</span>
            <output className="number">{typed(log) || '–'}</output>
          </p>
          <p className={styles.hint}>{methodOf(log)?.mind}</p>
          <button type="button" onClick={onToPhotos}>
            To the photos
          </button>
        </div>
      )}
      {byLengths(log) && (
        <Lengths log={log} trialId={trialId} units={units} label={labelOf(log)} change={change} />
      )}
      {!onPhoto(log) && !byLengths(log) && (
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
  );
}

const byLengths = (log: Log): boolean => log.at !== VOLTS && methodOf(log)?.unit === 'mm';

const onPhoto = (log: Log): boolean => log.at !== VOLTS && methodOf(log)?.unit === 'px';

function typed(log: Log): string {
  const entry = log.edges[log.at];
  if (entry?.typed !== undefined) return `${entry.negative ? '−' : '+'}${entry.typed}°`;
  const bevel = bevelOf(entry);
  return bevel === null ? '' : showDegrees(bevel);
}
