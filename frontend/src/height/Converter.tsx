import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { useUnits } from '../kit/queries';
import { showLength, type ShopUnits } from '../kit/units';
import styles from './height.module.css';

const WAYS = [
  { value: 'volts', label: 'Volts → height' },
  { value: 'height', label: 'Height → volts' },
] as const;

/** Both ways between volts and height on this table, with the chance that something touches. */
export function Converter({ trialId, cutHeight }: { trialId: number; cutHeight: number }) {
  const units = useUnits();
  const [way, setWay] = useState<'volts' | 'height'>('volts');
  const [volts, setVolts] = useState<number | null>(null);
  const [height, setHeight] = useState<number | null>(cutHeight);
  const [warp, setWarp] = useState(0);
  const given =
    way === 'volts'
      ? volts !== null && { volts_v: volts, warp_mm: warp }
      : height !== null && { height_mm: height, warp_mm: warp };
  const found = useQuery({
    queryKey: ['converted', trialId, given],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/height/converted', {
          params: { path: { trial_id: trialId }, query: given || {} },
        }),
      ),
    enabled: given !== false,
    placeholderData: (before) => before,
  });
  const said = given ? found.data : undefined;
  return (
    <div className={styles.converter}>
      <Choices label="Convert" value={way} choices={WAYS} onChoose={setWay} />
      {way === 'volts' ? (
        <NumberField label="Set-point" value={volts} after="V" onType={setVolts} />
      ) : (
        <QuantityField
          label="Height"
          quantity="length"
          unit={units.length_unit}
          initial={showLength(cutHeight, units).text}
          onRead={setHeight}
        />
      )}
      <QuantityField
        label="The sheet rises by, unfollowed"
        quantity="length"
        unit={units.length_unit}
        initial="0"
        onRead={(mm) => setWarp(mm ?? 0)}
      />
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {said && <Said way={way} said={said} units={units} />}
    </div>
  );
}

type Converted = Schema['ConvertAnswer'];

interface SaidProps {
  way: 'volts' | 'height';
  said: Converted;
  units: ShopUnits;
}

/** What it comes to, and the chance that the torch touches the plate. */
function Said({ way, said, units }: SaidProps) {
  const touch = said.touch_chance;
  const bad = touch !== null && touch > 0.05;
  return (
    <p className={styles.heroLine}>
      {way === 'volts' ? <Height said={said} units={units} /> : <Volts said={said} />}
      {touch !== null && (
        <span className={styles.mark} data-bad={bad}>
          {bad ? '▲ ' : ''}
          {touch < 0.01
            ? 'touches in less than 1 of 100'
            : `touches in ${Math.round(100 * touch)} of 100`}
        </span>
      )}
    </p>
  );
}

function Height({ said, units }: { said: Converted; units: ShopUnits }) {
  if (said.height_mm === null) return said.says;
  const text = (mm: number) => showLength(mm, units).text;
  return (
    <>
      <b className="number">{text(said.height_mm)}</b> ± {text(said.sd_mm ?? 0)} {units.length_unit}
    </>
  );
}

function Volts({ said }: { said: Converted }) {
  if (said.volts_v === null) return said.says;
  return (
    <>
      <b className="number">{said.volts_v.toFixed(1)}</b> ± {(said.sd_v ?? 0).toFixed(1)} V
    </>
  );
}
