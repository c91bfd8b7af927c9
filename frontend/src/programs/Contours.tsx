import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { showLength, showSpeed, showThickness, withUnit, type ShopUnits } from '../kit/units';
import { DrawnSize } from './DrawnSize';
import styles from './programs.module.css';
import { holesQuery, type HoleOut, type Program } from './queries';

/** What the shop's hole table says of a hole. */
function ComesOut({ hole, units }: { hole: HoleOut | undefined; units: ShopUnits }) {
  if (!hole) return null;
  const through = `${showLength(hole.through_mm, units).text} ± ${withUnit(showLength(hole.sd_mm, units))}`;
  return (
    <small>
      comes out {through} through, by the holes tried here: {hole.passes}
    </small>
  );
}

const KIND = { outside: 'Outside', hole: 'Hole', inside: 'Inside', open: 'Open cut' } as const;

/** The contours in cutting order; the chosen one can be told the size that it ought to come out at. */
export function Contours({
  program,
  chosen,
  onChoose,
  units,
}: {
  program: Program;
  chosen: number | null;
  onChoose: (contour: number | null) => void;
  units: ShopUnits;
}) {
  const [all, setAll] = useState(false);
  const { contours } = program.found;
  const holes = useQuery(holesQuery(program.id, program.version)).data ?? [];
  const outOf = (line: number) => holes.find((h) => h.line === line);
  const shown = all ? contours : contours.slice(0, 40);
  const mm = (v: number) => showThickness(v, units).text;
  return (
    <section aria-label="Contours" className={styles.contours}>
      <h2>
        {contours.length} {contours.length === 1 ? 'contour' : 'contours'}, in cutting order
      </h2>
      <ol>
        {shown.map((c, i) => (
          <li key={i}>
            <button
              type="button"
              aria-pressed={chosen === i}
              onClick={() => onChoose(chosen === i ? null : i)}
            >
              <b className="number">{i + 1}</b>
              <span>
                <strong>{KIND[c.kind]}</strong>{' '}
                {c.kind === 'hole'
                  ? `⌀ ${mm(c.size_mm[0] ?? 0)} ${units.length_unit}`
                  : `${mm(c.size_mm[0] ?? 0)} × ${mm(c.size_mm[1] ?? 0)} ${units.length_unit}`}
                <small>
                  line {c.line}
                  {c.turns && `, ${c.turns.replace('_', '-')}`}
                  {c.kept_side && `, kept metal ${c.kept_side}`}
                  {c.closed && `, lead-in ${mm(c.lead_in_mm)}, overrun ${mm(c.overrun_mm)}`}
                  {c.blind_mm !== null && `, ${mm(c.blind_mm)} blind`}
                </small>
                <ComesOut hole={outOf(c.line)} units={units} />
              </span>
              <span className="number">
                {c.feed_mm_min === null ? 'no feed' : showSpeed(c.feed_mm_min, units).text}{' '}
                <small>{units.speed_unit}</small>
              </span>
              <span className="number">
                {Math.round(100 * c.share_at_speed)} <small>% at speed</small>
              </span>
            </button>
            {chosen === i && c.closed && <DrawnSize program={program} contour={i} units={units} />}
          </li>
        ))}
      </ol>
      {shown.length < contours.length && (
        <Button onClick={() => setAll(true)}>Show all {contours.length}</Button>
      )}
    </section>
  );
}
