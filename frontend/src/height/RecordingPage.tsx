import { at } from '../kit/place';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { inInches, showLength, withUnit, type ShopUnits, runOf } from '../kit/units';
import styles from './height.module.css';
import { traceQuery, type Trace } from './queries';
import { TraceChart } from './TraceChart';

/** A recording read: where it settled, what happened, what the control should be told; two of them side by side. */
export function RecordingPage() {
  const { traceId } = useParams();
  const [search] = useSearchParams();
  const beside = Number(search.get('beside') ?? 0);
  return (
    <main className={styles.height} data-two={beside > 0}>
      <p>
        <Link to="/height/recordings">All recordings</Link>
      </p>
      <OneRecording traceId={Number(traceId)} />
      {beside > 0 && <OneRecording traceId={beside} />}
    </main>
  );
}

function OneRecording({ traceId }: { traceId: number }) {
  const trace = useQuery(traceQuery(traceId));
  if (trace.isError) return <Notice kind="refusal">{refusalText(trace.error)}</Notice>;
  if (!trace.data) return <div aria-busy="true" />;
  const { line } = trace.data;
  const begun = new Date(line.begun_at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
  return (
    <article className={styles.recording}>
      <header className={styles.head}>
        <h1>{line.cut_number ? `Cut ${line.cut_number}` : line.name}</h1>
        <p className={styles.soft}>
          {begun}, {line.samples.toLocaleString()} samples ·{' '}
          <a href={at(`/api/traces/${line.id}/csv`)} download>
            CSV
          </a>
        </p>
      </header>
      {line.interrupted && <Notice kind="note">{line.interrupted}</Notice>}
      <TraceChart trace={trace.data} />
      <div className={styles.two}>
        <Cuts trace={trace.data} />
        <Recommended trace={trace.data} />
      </div>
      <RunUp traceId={traceId} />
    </article>
  );
}

/** The acceleration that the recording's feed shows; nothing where it holds no feed, or no ramp. */
function RunUp({ traceId }: { traceId: number }) {
  const found = useQuery({
    queryKey: ['run-up', traceId],
    queryFn: () =>
      answered(api.GET('/api/traces/{trace_id}/run-up', { params: { path: { trace_id: traceId } } })),
    retry: false,
  });
  if (!found.data) return null;
  return (
    <div>
      <h2>How it comes to speed</h2>
      <p>{found.data.why}</p>
      <p>
        {found.data.holds} <Link to="/machine/motion">A stopwatch tells it apart</Link> from what the
        controller only says.
      </p>
    </div>
  );
}

/** A drift along the way, by the metre or by the foot. */
const drift = (vPerM: number, units: ShopUnits): string => {
  const sign = vPerM < 0 ? '−' : '+';
  const { m, word } = runOf(units);
  return `${sign}${(Math.abs(vPerM) * m).toFixed(inInches(units) ? 2 : 1)} V a ${word}`;
};

/** For how much of a cut height control was on. */
const controlled = (share: number): string =>
  share === 0 ? 'height control off' : `under control for ${Math.round(100 * share)} % of it`;

function Cuts({ trace }: { trace: Trace }) {
  const units = useUnits();
  const volts = (v: number | null) => (v === null ? '–' : `${v.toFixed(1)} V`);
  const length = (mm: number | null) => (mm === null ? '–' : withUnit(showLength(mm, units)));
  return (
    <div>
      <h2>What happened</h2>
      <ol className={styles.cuts}>
        {trace.cuts.map((c, i) => (
          <li key={c.arc_on_s}>
            <h3>
              {trace.cuts.length > 1 ? `Start ${i + 1}: ` : ''}
              <b className="number">{c.steady_v.toFixed(1)}</b> V steady, noise {c.noise_v.toFixed(1)} V
            </h3>
            <p className={styles.soft}>
              {c.settled_s === null
                ? 'never at rest'
                : `at rest ${(c.settled_s - c.arc_on_s).toFixed(2)} s after the arc${c.settled_mm === null ? '' : `, ${length(c.settled_mm)} on`}`}
              ; off by {volts(c.rms_v)}
              {c.rms_mm !== null && `, ${length(c.rms_mm)}`} r.m.s.
              {c.drift_v_per_m !== null &&
                Math.abs(c.drift_v_per_m) >= 0.05 &&
                `; drifts ${drift(c.drift_v_per_m, units)}`}
              {c.control_share !== null && `; ${controlled(c.control_share)}`}
            </p>
            {c.events.length > 0 && (
              <ul>
                {c.events.slice(0, 12).map((e) => (
                  <li key={`${e.kind}${e.from_s}`}>
                    {e.word} at {e.from_s.toFixed(2)} s
                    {e.kind !== 'arc_lost' &&
                      `: ${e.peak_v > 0 ? '+' : '−'}${Math.abs(e.peak_v).toFixed(1)} V`}
                    {e.height_mm !== null &&
                      Math.abs(e.height_mm) >= 0.05 &&
                      `, ${length(Math.abs(e.height_mm))} ${e.height_mm < 0 ? 'closer' : 'higher'}`}
                  </li>
                ))}
                {c.events.length > 12 && <li>and {c.events.length - 12} more</li>}
              </ul>
            )}
          </li>
        ))}
      </ol>
      {trace.trims.length > 0 && (
        <p>
          Trimmed:{' '}
          {trace.trims
            .map((t) => `${t.by_v > 0 ? '+' : '−'}${Math.abs(t.by_v)} V at ${t.at_s.toFixed(1)} s`)
            .join(', ')}
        </p>
      )}
    </div>
  );
}

function Recommended({ trace }: { trace: Trace }) {
  const r = trace.recommend;
  const told = [
    ['delay, from the arc', r.control_delay_s === null ? null : `${r.control_delay_s.toFixed(2)} s`],
    ['dead band, either side', r.dead_band_v === null ? null : `${r.dead_band_v.toFixed(1)} V`],
    [
      'hold below',
      r.hold_below_speed_share === null
        ? null
        : `${Math.round(100 * r.hold_below_speed_share)} % of speed`,
    ],
    ['hold on a jump of', r.crossing_jump_v === null ? null : `${r.crossing_jump_v.toFixed(1)} V`],
  ] as const;
  return (
    <div>
      <h2>Tell the control</h2>
      <dl className={styles.recommends}>
        {told.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd className="number">{value ?? 'not told here'}</dd>
          </div>
        ))}
      </dl>
      <p>{r.gain_says}</p>
      {trace.cannot_tell.length > 0 && (
        <>
          <h2>What it cannot tell</h2>
          <ul className={styles.cannot}>
            {trace.cannot_tell.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
