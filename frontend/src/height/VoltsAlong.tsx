import { NumberField } from '../kit/NumberField';
import styles from './height.module.css';
import type { Examined, Typed } from './queries';

interface Props {
  typed: Typed;
  type: (some: Partial<Typed>) => void;
  examined: Examined | null;
}

/** The five stations from arc to screen, with the volts at each: as told, and as it really seems. */
export function VoltsAlong({ typed, type, examined }: Props) {
  const first = examined?.report.explanations[0];
  const wrong = first && first.fault !== 'none' ? first.stage : null;
  const really = reallyOf(first);
  const both = typed.seenBy === 'volts';
  return (
    <ol className={styles.path} aria-label="From the arc to the screen">
      <Station name="Arc" at="true volts at the source" wrong={false}>
        {both ? (
          <NumberField
            label="True volts"
            value={typed.trueV}
            after="V"
            onType={(trueV) => type({ trueV })}
          />
        ) : (
          <p className={styles.given}>set-point</p>
        )}
        <Volts examined={examined} at={0} />
      </Station>
      <Station name="Source" at="divides by" wrong={wrong === 'source'} really={really}>
        <NumberField
          label="Source ratio"
          before="÷"
          value={typed.source}
          onType={(source) => type({ source })}
        />
        <Volts examined={examined} at={1} />
      </Station>
      <Station
        name="Card"
        at="input card divides by"
        wrong={wrong === 'card'}
        really={really}
        broken={wrong === 'wiring'}
      >
        <NumberField
          label="Card ratio"
          before="÷"
          value={typed.card}
          onType={(card) => type({ card })}
        />
        <Volts examined={examined} at={2} />
      </Station>
      <Station name="Controller" at="multiplies by" wrong={wrong === 'multiplier'} really={really}>
        <NumberField
          label="Multiplier"
          before="×"
          value={typed.multiplier}
          onType={(multiplier) => type({ multiplier })}
        />
      </Station>
      <Station name="Screen" at="volts shown" wrong={false}>
        {both ? (
          <NumberField
            label="Volts on the screen"
            value={typed.screenV}
            after="V"
            onType={(screenV) => type({ screenV })}
          />
        ) : (
          <p className={styles.given}>as told it shows</p>
        )}
        <Volts examined={examined} at={3} />
      </Station>
    </ol>
  );
}

function reallyOf(first: Examined['report']['explanations'][number] | undefined): string | null {
  if (!first || first.actual_ratio === null) return null;
  const sign = first.stage === 'multiplier' ? '×' : '÷';
  return `really ${sign}${first.actual_ratio}?`;
}

interface StationProps {
  name: string;
  at: string;
  wrong: boolean;
  really?: string | null;
  broken?: boolean;
  children: React.ReactNode;
}

function Station({ name, at, wrong, really, broken, children }: StationProps) {
  return (
    <li className={styles.station} data-wrong={wrong} data-broken={broken}>
      <h2>
        {name} <span>{at}</span>
      </h2>
      {children}
      {wrong && really && <p className={styles.really}>▲ {really}</p>}
      {broken && <p className={styles.really}>▲ wire before it open or shorted?</p>}
    </li>
  );
}

/** The volts at a station: as told, and as it really seems where that is another; at the arc they are what is given. */
function Volts({ examined, at }: { examined: Examined | null; at: number }) {
  const told = examined?.volts_along[at];
  const likely = at === 0 ? null : (examined?.likely_volts_along?.[at] ?? null);
  if (told === undefined) return <p className={styles.volts}>&nbsp;</p>;
  const differs = likely !== null && Math.abs(likely - told) > 0.005 * Math.max(told, 0.1);
  return (
    <p className={styles.volts}>
      <b className="number">{shown(told)}</b> V as told
      {differs && (
        <span>
          <b className="number">{shown(likely)}</b> V as it seems
        </span>
      )}
    </p>
  );
}

const shown = (volts: number): string =>
  volts >= 1000 ? volts.toFixed(0) : volts >= 20 ? volts.toFixed(1) : volts.toFixed(2);
