import { ChanceField, CutMark, type Frame, type Place } from '../kit/ChanceField';
import type { ShopUnits } from '../kit/units';
import { dialled, kept, type Bench, type Setting } from './model';

export const SMALL: Frame = { width: 264, height: 138, mark: 9.5 };
export const WIDE: Frame = { width: 560, height: 300, mark: 12 };

interface Props {
  bench: Bench;
  units: ShopUnits;
  frame: Frame;
  chosen?: Setting;
  onChoose: (at: Setting) => void;
}

/** The window: chance over speed and height in the temper ramp, cuts as marks. Tapped, it names a setting. */
export function WindowMap({ bench, units, frame, chosen, onChoose }: Props) {
  const best = Math.max(...bench.chance_map.chance.flat());
  return (
    <ChanceField
      map={bench.chance_map}
      units={units}
      frame={frame}
      label={`Chance to pass over the trial's limits: ${Math.round(best * 100)} in 100 at best. Read it as a table for the figures.`}
      onTap={(at) => onChoose(dialled(at, units, bench.trial.limits))}
    >
      {(place) => (
        <>
          {kept(bench).map((c) => (
            <CutMark key={c.id} at={place(c)} mark={frame.mark} text={c.number} />
          ))}
          {bench.advice.recommended && !bench.trial.recipe_id && (
            <NextMark at={place(bench.now.setting)} />
          )}
          {chosen && <ChosenMark at={place(chosen)} frame={frame} />}
        </>
      )}
    </ChanceField>
  );
}

function NextMark({ at: [x, y] }: { at: Place }) {
  return (
    <g fill="none">
      <rect x={x - 13} y={y - 13} width={26} height={26} stroke="var(--rail)" strokeWidth={5} />
      <rect x={x - 13} y={y - 13} width={26} height={26} stroke="var(--chalk)" strokeWidth={2.4} />
    </g>
  );
}

/** What is asked about: lines through it to both axes. */
function ChosenMark({ at: [x, y], frame }: { at: Place; frame: Frame }) {
  const d = `M0 ${y}H${frame.width}M${x} 0V${frame.height}`;
  return (
    <g fill="none">
      <path d={d} stroke="var(--rail)" strokeWidth={4} opacity={0.55} />
      <path d={d} stroke="var(--chalk)" strokeWidth={1.6} />
    </g>
  );
}
