import { Link, useOutletContext } from 'react-router';
import { useQuery } from '@tanstack/react-query';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery, useUnits } from '../kit/queries';
import { showLength, showSize, showSpeed } from '../kit/units';
import type { Table } from '../kit/client';
import { Attach } from './Attach';
import { LiveChart } from './LiveChart';
import { RecordingEnded } from './RecordingEnded';
import { lineQuery, type Line } from './queries';
import { Runs, Stop } from './Runs';
import { Trims } from './Trims';
import styles from './live.module.css';
import { PHASE_WORDS } from '../kit/words.gen';
import { STATE_WORDS } from './words';
import { useNow, useStream } from './useLive';
import type { LiveStream } from './live';

const NOTHING_V = 0.5; // at most this a screen shows where there is no signal

/** What the arc shows as it cuts: volts, set-point, height and speed; trims by thumb; what it came to at the end. */
export function LiveCutPage() {
  const table = useOutletContext<Table>();
  const line = useQuery(lineQuery(table.id));
  if (line.isError && !line.data) return <Notice kind="refusal">{refusalText(line.error)}</Notice>;
  if (!line.data) return <Waiting table={table} />;
  if (line.data.state === 'none') return <NoLine table={table} line={line.data} />;
  return <Watched table={table} />;
}

function Waiting({ table, away = false }: { table: Table; away?: boolean }) {
  return (
    <main className={styles.live} aria-busy="true">
      <h1>Live cut on the {table.name}</h1>
      {away && <Notice kind="note">{STATE_WORDS.away}</Notice>}
    </main>
  );
}

/** A table that nothing listens to yet: the way to attach one, and the ways to work without. */
function NoLine({ table, line }: { table: Table; line: Line }) {
  return (
    <main className={styles.live}>
      <header>
        <h1>No line to the {table.name} yet</h1>
      </header>
      <section className={styles.without} aria-label="Without a line">
        <p>Height is tuned without one, too:</p>
        <ul>
          <li>
            <Link to="/bench">Read the steady volts off the machine’s screen</Link>, and log them with
            each cut: what a volt of height is worth comes of that.
          </li>
          <li>
            <Link to="/height/recordings">Take a recording in</Link> that a logger or the machine wrote:
            it is read sample by sample.
          </li>
          <li>
            <Link to="/height/set-point">Work out what to tell the control</Link> from the cuts that are
            logged.
          </li>
        </ul>
      </section>
      <Attach tableId={table.id} line={line} />
    </main>
  );
}

function Watched({ table }: { table: Table }) {
  const shop = useQuery(shopQuery);
  const stream = useStream(table.id);
  const { line } = stream;
  if (!line || !shop.data) return <Waiting table={table} away={stream.away} />;
  return (
    <main className={styles.live}>
      <header>
        <h1>Live cut on the {table.name}</h1>
        <State stream={stream} />
        {line.can.includes('stop') && <Stop tableId={table.id} running={line.recording !== null} />}
      </header>
      <section aria-label="The arc now">
        <Numbers stream={stream} />
        <LiveChart stream={stream} height={380} />
      </section>
      <div className={styles.side}>
        {line.doubt && (
          <Notice kind="caution">
            {line.doubt} <Link to="/height/signal-path">Signal path</Link>
          </Notice>
        )}
        {line.dropped > 0 && (
          <Notice kind="note">
            {line.dropped} {line.dropped === 1 ? 'sample' : 'samples'} that could not be read, so far:
            left out of the recording.
          </Notice>
        )}
        <Trims tableId={table.id} stream={stream} />
        {line.ended && !line.recording && <RecordingEnded ended={line.ended} />}
        {line.can.includes('run') && (
          <Runs tableId={table.id} trialId={table.bench_trial_id} line={line} />
        )}
        {line.refused && <Notice kind="refusal">The table says: {line.refused}</Notice>}
        {!line.simulated && <Attach tableId={table.id} line={line} />}
        {line.simulated && <Attach tableId={table.id} line={line} folded />}
      </div>
    </main>
  );
}

function State({ stream }: { stream: LiveStream }) {
  const { line, away } = stream;
  if (!line) return null;
  const state = away ? 'away' : line.state;
  const recording = line.recording;
  return (
    <p role="status">
      <span className={styles.state} data-state={away ? 'broken' : line.state}>
        {STATE_WORDS[state]}
      </span>{' '}
      {away ? '' : line.says || line.name}
      {recording && !away && (
        <>
          {' '}
          · recording, {recording.kept} samples kept, {recording.starts}{' '}
          {recording.starts === 1 ? 'start' : 'starts'}
        </>
      )}
    </p>
  );
}

function Numbers({ stream }: { stream: LiveStream }) {
  const now = useNow(stream);
  const units = useUnits();
  const since = stream.rings.sinceArc();
  return (
    <dl className={styles.numbers}>
      <Reading name="Arc voltage" of={litVolts(now)} text={(v) => v.toFixed(1)} unit="V" hero />
      <Reading name="Set-point" of={now?.setPoint} text={(v) => v.toFixed(1)} unit="V" />
      <Reading name="Phase" of={now?.phase ?? 'idle'} text={(phase) => PHASE_WORDS[phase]} />
      <Reading name="Z" of={now?.z} text={(z) => showLength(z, units).text} unit={units.length_unit} />
      <Reading
        name="Speed"
        of={now?.feed}
        text={(feed) => showSpeed(feed, units).text}
        unit={units.speed_unit}
      />
      <Reading name="Since the arc" of={since?.seconds} text={(s) => s.toFixed(1)} unit="s" />
      <Reading
        name="of it blind"
        of={since?.blind_mm}
        text={(mm) => showSize(mm, units).text}
        unit={showSize(1, units).unit}
      />
      <Reading name="Control" of={now?.control} text={(on) => (on ? 'on' : 'not on')} />
    </dl>
  );
}

type Now = ReturnType<typeof useNow>;

/** The volts while the arc burns; what a gauge shows without one is no reading. */
function litVolts(now: Now): number | null {
  if (!now || now.volts === null) return null;
  return now.phase !== 'idle' || now.volts > NOTHING_V ? now.volts : null;
}

interface ReadingProps<T> {
  name: string;
  of: T | null | undefined;
  text: (of: T) => string;
  unit?: string;
  hero?: boolean;
}

/** One reading as it is now; a dash where there is none. */
function Reading<T>({ name, of, text, unit, hero = false }: ReadingProps<T>) {
  return (
    <div className={hero ? styles.hero : undefined}>
      <dt>{name}</dt>
      <dd>
        {of === null || of === undefined ? '–' : text(of)}
        {unit && (
          <>
            {' '}
            <span>{unit}</span>
          </>
        )}
      </dd>
    </div>
  );
}
