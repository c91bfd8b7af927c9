import { DROSS_EFFORT } from '../kit/words.gen';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Schema } from '../kit/client';
import { Notice } from '../kit/Notice';
import { gasAlong, runOf, type ShopUnits, showLength, showSpeed, withUnit } from '../kit/units';
import { NoteDialog } from './NoteDialog';
import styles from './choose.module.css';
import type { Job } from './queries';

type Option = Schema['ChooseOption'];

const CAN: Record<string, string> = {
  pierce: '■',
  edge_start: '◧',
  sever: '▲',
  refuse: '✕',
  unknown: '□',
};

interface Props {
  option: Option;
  job: Job;
  fastest: number;
  units: ShopUnits;
}

/** One process as a line of instruments: what it asks for, and what comes of it here. */
export function OptionRow({ option: o, job, fastest, units }: Props) {
  const navigate = useNavigate();
  const run = runOf(units);
  const [writing, setWriting] = useState(false);
  const gas = o.shield_gas ? `${o.gas} with ${o.shield_gas}` : o.gas;
  const begin = () =>
    void navigate(
      `/trials/new?${new URLSearchParams({
        metal: job.metal,
        thickness: String(job.thickness_mm),
        set: String(o.torch_set_id),
        gas: o.gas,
      }).toString()}`,
    );
  return (
    <li className={styles.option} data-usable={o.usable}>
      <div className={styles.who}>
        <strong>{o.torch_set}</strong>
        <span>
          {o.amperage_a} A, {gas}
        </span>
        <b data-can={o.can}>
          {CAN[o.can] ?? ''} {o.can_sentence}
        </b>
      </div>
      <div className={styles.speed}>
        {o.speed_mm_min === null ? (
          <span className={styles.soft}>no starting numbers</span>
        ) : (
          <>
            <span>
              <b className="number">{showSpeed(o.speed_mm_min, units).text}</b> {units.speed_unit}
            </span>
            <i style={{ width: `${(100 * o.speed_mm_min) / fastest}%` }} aria-hidden="true" />
          </>
        )}
        <Held name="straight" share={o.straight_share} />
        <Held name="circle" share={o.circle_share} />
      </div>
      <dl className={styles.facts}>
        <Fact name="Edge">{edgeOf(o)}</Fact>
        <Fact name="Underside">{undersideOf(o)}</Fact>
        {(o.colour ?? o.rounding) && (
          <Fact name="Looks">
            {[o.colour, o.rounding && `top rounding ${o.rounding}`].filter(Boolean).join(', ')}
          </Fact>
        )}
        {o.lag_deg !== null && <Fact name="Lag">{o.lag_deg.toFixed(0)}°</Fact>}
        <Fact name="From">{o.look_from}</Fact>
      </dl>
      <dl className={styles.facts}>
        <Fact name="Kerf">
          {o.kerf_mm === null ? 'not known' : withUnit(showLength(o.kerf_mm, units))}
        </Fact>
        <Fact name="Smallest hole">
          {showLength(o.smallest_hole_mm, { ...units }).text} {units.length_unit}
        </Fact>
        <Fact name={`A ${run.word} costs`}>
          {o.cost_per_m === null ? 'prices missing' : (o.cost_per_m * run.m).toFixed(2)}
        </Fact>
        <Fact name="Gas">
          {o.gas_l_per_m === null ? 'flow not known' : gasAlong(o.gas_l_per_m, units, run.word)}
        </Fact>
      </dl>
      <div className={styles.go}>
        <Button variant={o.usable ? 'contained' : 'outlined'} disabled={!o.usable} onClick={begin}>
          Try it
        </Button>
        <Button variant="text" onClick={() => setWriting(true)}>
          Write down
        </Button>
        {writing && <NoteDialog option={o} units={units} onClose={() => setWriting(false)} />}
      </div>
      <Notes of={o} />
    </li>
  );
}

function edgeOf(o: Option): string {
  if (o.bevel_deg === null) return 'not said';
  const range = o.edge_range === null ? '' : `, range ${o.edge_range}`;
  return `${o.bevel_deg.toFixed(1)}°${range} ${o.measured ? '(measured)' : '(claimed)'}`;
}

function Held({ name, share }: { name: string; share: number | null }) {
  return (
    <span className={styles.held}>
      <small>{name}</small>
      <span aria-hidden="true">
        <i style={{ width: `${100 * (share ?? 0)}%` }} />
      </span>
      <small>{share === null ? 'not known' : `${Math.round(100 * share)} %`}</small>
    </span>
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

/** What is to be known of it; what the table has not is a caution, and stands out. */
function Notes({ of }: { of: Option }) {
  const [first, ...rest] = of.notes;
  const plain = [of.question, ...(of.beyond_machine ? rest : of.notes)].filter(Boolean).join(' ');
  return (
    <>
      {of.beyond_machine && first && (
        <div className={styles.beyond}>
          <Notice kind="caution">{first}</Notice>
        </div>
      )}
      {plain && <p className={styles.notes}>{plain}</p>}
    </>
  );
}

function undersideOf({ bottom_dross_grade: bottom, top_dross_grade: top }: Option): string {
  const below = bottom === null ? 'not said' : (DROSS_EFFORT[bottom] ?? '');
  return top ? `${below}; on top ${DROSS_EFFORT[top] ?? ''}` : below;
}
