import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { inInches, showLength, withUnit, type ShopUnits } from '../kit/units';
import { targetQuery, type TargetWay } from './queries';
import styles from './trial.module.css';

export type ChosenTarget = Required<Schema['TargetFile']>;

interface Way {
  way: TargetWay;
  label: string;
  values: readonly number[];
  show: (v: number) => string;
  usual: number;
}

/** The ways to say it; a gap in steps of the shop's own feelers. */
const waysIn = (units: ShopUnits): Way[] => [
  {
    way: 'bevel_deg',
    label: 'Degrees',
    values: [1, 1.5, 2, 3, 4],
    show: (v) => `${Number(v.toFixed(1))}°`,
    usual: 2,
  },
  inInches(units)
    ? {
        way: 'gap_mm',
        label: 'Gap',
        values: [0.005, 0.01, 0.015, 0.02, 0.03].map((inch) => inch * 25.4),
        show: (v) => withUnit(showLength(v, units)),
        usual: 0.01 * 25.4,
      }
    : {
        way: 'gap_mm',
        label: 'Gap',
        values: [0.1, 0.2, 0.3, 0.5, 0.8],
        show: (v) => `${v} mm`,
        usual: 0.3,
      },
  { way: 'iso_range', label: 'ISO 9013', values: [1, 2, 3, 4, 5], show: (v) => `range ${v}`, usual: 3 },
];

interface Props {
  thickness: number | null;
  target: ChosenTarget;
  onChange: (target: ChosenTarget) => void;
  effort: readonly string[];
}

/** What "square" means here, said in each of the three ways, and the dross that will do. */
export function TargetChooser({ thickness, target, onChange, effort }: Props) {
  const [way, setWay] = useState<TargetWay>('bevel_deg');
  const [value, setValue] = useState(target.bevel_deg);
  const found = useQuery({ ...targetQuery(thickness ?? 8, way, value), enabled: thickness !== null });
  const units = useUnits();
  const ways = waysIn(units);
  const chosen = ways.find((w) => w.way === way) ?? ways[0];
  const offered = [...new Set([...(chosen?.values ?? []), value])].sort((a, b) => a - b);
  const bevel = found.data?.bevel_deg ?? (way === 'bevel_deg' ? value : null);
  useEffect(() => {
    if (bevel !== null && bevel !== target.bevel_deg) onChange({ ...target, bevel_deg: bevel });
  }, [bevel, onChange, target]);
  return (
    <>
      <h2>Call it square when every kept edge is within</h2>
      <Choices
        label="Said as"
        value={way}
        choices={ways.map((w) => ({ value: w.way, label: w.label }))}
        onChoose={(w) => {
          setWay(w);
          setValue(ways.find((x) => x.way === w)?.usual ?? 2);
        }}
      />
      <Choices
        label={chosen?.label ?? ''}
        value={value}
        choices={offered.map((v) => ({ value: v, label: chosen?.show(v) ?? v }))}
        onChoose={setValue}
      />
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {found.data && thickness !== null ? (
        <InOtherWords said={found.data} units={units} />
      ) : (
        <p className={styles.said}>Give the thickness to see it as a gap and as a range.</p>
      )}
      <Choices
        label="Judged on"
        value={target.sides}
        choices={[
          { value: 'good', label: 'the good side' },
          { value: 'both', label: 'both sides' },
        ]}
        onChoose={(sides) => onChange({ ...target, sides })}
      />
      <Choices
        label="Worst dross that will do"
        value={target.dross_grade}
        choices={effort.slice(0, 4).map((e, grade) => ({ value: grade, label: e }))}
        onChoose={(dross_grade) => onChange({ ...target, dross_grade })}
      />
      <Choices
        label="First of all"
        value={target.priority}
        choices={[
          { value: 'square_first', label: 'square' },
          { value: 'clean_first', label: 'clean' },
          { value: 'fastest_in_tolerance', label: 'fast' },
        ]}
        onChoose={(priority) => onChange({ ...target, priority })}
      />
    </>
  );
}

/** The bevel as a gap against a square and as a range of ISO 9013, with what to mind of it. */
function InOtherWords({ said, units }: { said: Schema['TargetAnswer']; units: ShopUnits }) {
  return (
    <>
      <p className={styles.said}>
        <strong>{said.bevel_deg.toFixed(1)}°</strong> is a gap of{' '}
        <strong>{withUnit(showLength(said.gap_mm, units))}</strong> against a square, and{' '}
        <strong>{said.iso_range ? `range ${said.iso_range}` : 'outside the ranges'}</strong> of ISO 9013
        (u {withUnit(showLength(said.perpendicularity_mm, units))}).
      </p>
      {said.warning && <Notice kind="caution">{said.warning}</Notice>}
      {said.judged_by && <Notice kind="caution">{said.judged_by}</Notice>}
    </>
  );
}
