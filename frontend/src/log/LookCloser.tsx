import { Match } from '../kit/Match';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { showLength, type ShopUnits } from '../kit/units';
import { lookKey, type Log, type LookFor } from './log';
import { look } from './typing';
import styles from './log.module.css';

interface Props {
  log: Log;
  item: number;
  asked: readonly LookFor[];
  units: ShopUnits;
  change: (to: (now: Log) => Log) => void;
}

/** What there is to see beside edges and volts, in turning order: tap the picture that looks like it. */
export function LookCloser({ log, item, asked, units, change }: Props) {
  return (
    <div className={styles.looks}>
      {asked.map((a) =>
        a.choices.length > 0 ? (
          <Pictures key={a.what} log={log} item={item} asked={a} change={change} />
        ) : (
          <Typed key={a.what} log={log} item={item} asked={a} units={units} change={change} />
        ),
      )}
    </div>
  );
}

function Pictures({ log, item, asked, change }: Omit<Props, 'asked' | 'units'> & { asked: LookFor }) {
  const seen = log.looks[lookKey(item, asked.what)]?.value;
  return (
    <fieldset className={styles.matches}>
      <legend>{asked.question}</legend>
      <div style={{ gridTemplateColumns: `repeat(${asked.choices.length}, minmax(0, 1fr))` }}>
        {asked.choices.map((c) => (
          <button
            key={c.value}
            type="button"
            aria-pressed={seen === c.value}
            onClick={() => change((now) => look(now, item, asked.what, { value: c.value }))}
          >
            {asked.picture && <Match picture={asked.picture} value={c.value} />}
            <strong>{c.label}</strong>
            {c.says && <small>{c.says}</small>}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

function Typed({ log, item, asked, units, change }: Omit<Props, 'asked'> & { asked: LookFor }) {
  const number = log.looks[lookKey(item, asked.what)]?.number;
  const read = (value: number | null) =>
    change((now) => look(now, item, asked.what, { number: value ?? undefined }));
  if (asked.unit === 'angle')
    return <NumberField label={asked.question} after="°" value={number ?? null} onType={read} />;
  return (
    <QuantityField
      label={asked.question}
      quantity="length"
      unit={units.length_unit}
      initial={number === undefined ? '' : showLength(number, units).text}
      onRead={read}
    />
  );
}
