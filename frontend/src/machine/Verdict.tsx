import { showLength, showSize, withUnit, type ShopUnits } from '../kit/units';
import type { Judged, Report } from './measured';
import styles from './square.module.css';

/** What the sizes say: what was found first, then each figure with its range, then what cannot be told. */
export function Verdict({ judged, units }: { judged: Judged; units: ShopUnits }) {
  const { report, findings, adjusting } = judged;
  return (
    <section className={styles.verdict} aria-label="What they tell">
      {findings.map((f) => (
        <div key={f.code + f.title} className={styles.finding} data-clear={f.code === 'none'}>
          <h2>{f.title}</h2>
          <p>{f.why}</p>
          {f.check && <p>{f.check}</p>}
          {f.cure && <p className={styles.cure}>{f.cure}</p>}
        </div>
      ))}
      <Leaning report={report} sure={findings.some((f) => f.code === 'gantry_skew')} />
      <Figures report={report} units={units} />
      {adjusting.says.map((s) => (
        <p key={s} className={styles.cure}>
          {s}
        </p>
      ))}
      {report.holes.map((h, i) => (
        <p key={i}>
          Hole of {withUnit(showLength(h.nominal_mm, units))}: {h.passes}
          {h.draw_mm !== null && (
            <>
              ; draw <b className="number">{withUnit(showLength(h.draw_mm, units))}</b> for the nominal
              to go through
            </>
          )}
          {h.taper_deg !== null && `; taper ${h.taper_deg.toFixed(1)}°`}.
        </p>
      ))}
      {report.cannot_tell.length > 0 && (
        <ul className={styles.untold} aria-label="What they cannot tell">
          {report.cannot_tell.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The gantry over its rails, its skew drawn forty times as large (14 degrees at most), and which end goes which way. */
function Leaning({ report, sure }: { report: Report; sure: boolean }) {
  const skew = report.skew_deg;
  if (skew === null) return null;
  const turned = Math.max(-14, Math.min(14, -40 * skew.value));
  const down = skew.value > 0;
  return (
    <figure className={styles.leaning}>
      <svg viewBox="0 0 320 150" role="img" aria-label="The gantry on its rails, its skew enlarged">
        <path d="M40 8V142M280 8V142" data-rail />
        <path d="M22 75H298" data-square />
        <g transform={`rotate(${turned} 160 75)`}>
          <rect x="22" y="67" width="276" height="16" rx="2" />
        </g>
        {sure && (
          <path
            data-arrow
            d={down ? 'M306 46V100M298 88L306 102L314 88' : 'M306 104V50M298 62L306 48L314 62'}
          />
        )}
        <text x="286" y="145">
          +X
        </text>
        <text x="12" y="145">
          −X
        </text>
        <text x="150" y="16">
          +Y
        </text>
      </svg>
      <figcaption>{sure ? 'Drawn far larger than it is' : 'Not to be told from square'}</figcaption>
    </figure>
  );
}

/** The figures with their ranges, and what they were before where there is a before. */
export function Figures({
  report,
  units,
  before,
}: {
  report: Report;
  units: ShopUnits;
  before?: Report | undefined;
}) {
  const per = (share: number) => withUnit(showLength(share * 1000, units));
  return (
    <dl className={styles.figures}>
      <div>
        <dt>Skew</dt>
        <dd className="number">{report.skew_deg ? `${report.skew_deg.value.toFixed(3)}°` : '?'}</dd>
        {report.skew_deg && <dd>± {report.skew_deg.sd.toFixed(3)}°</dd>}
        {before?.skew_deg && <dd>was {before.skew_deg.value.toFixed(3)}°</dd>}
      </div>
      {(['scale_x', 'scale_y'] as const).map((name) => {
        const scale = report[name];
        return (
          <div key={name}>
            <dt>{name === 'scale_x' ? 'Scale, X' : 'Scale, Y'}</dt>
            <dd className="number">{scale ? scale.value.toFixed(4) : '?'}</dd>
            {scale && (
              <dd>
                ± {per(scale.sd)} over {withUnit(showSize(1000, units))}
              </dd>
            )}
            {before?.[name] && <dd>was {before[name].value.toFixed(4)}</dd>}
          </div>
        );
      })}
      <div>
        <dt>Kerf</dt>
        <dd className="number">
          {report.kerf_mm ? withUnit(showLength(report.kerf_mm.value, units)) : '?'}
        </dd>
        {report.kerf_mm && <dd>± {withUnit(showLength(report.kerf_mm.sd, units))}</dd>}
        {before?.kerf_mm && <dd>was {withUnit(showLength(before.kerf_mm.value, units))}</dd>}
      </div>
    </dl>
  );
}
