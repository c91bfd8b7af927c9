import { at } from '../kit/place';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { FileButton } from '../kit/FileButton';
import { NoTable } from '../kit/NoTable';
import { Notice, refusalText } from '../kit/Notice';
import { useTable, useUnits } from '../kit/queries';
import { showAlong, withUnit, type ShopUnits } from '../kit/units';
import { minutes } from './clock';
import styles from './programs.module.css';
import { BeingRead } from './BeingRead';
import { programsQuery, type ProgramLine } from './queries';

/** The programs of a table, each with what was found in it and what a run takes. */
export function ProgramsPage() {
  const table = useTable();
  if (table === null) return <NoTable />;
  return <Programs key={table.id} tableId={table.id} tableName={table.name} />;
}

function Programs({ tableId, tableName }: { tableId: number; tableName: string }) {
  const programs = useQuery(programsQuery(tableId));
  const queries = useQueryClient();
  const navigate = useNavigate();
  const units = useUnits();
  if (programs.isError && !programs.data)
    return <Notice kind="refusal">{refusalText(programs.error)}</Notice>;
  return (
    <main className={styles.programs} aria-busy={!programs.data}>
      <header className={styles.head}>
        <h1>Programs</h1>
        <FileButton<ProgramLine>
          label="Check a program"
          accept=".nc,.tap,.ngc,.cnc,.txt,.gcode,text/plain"
          untyped
          address={(name, watch) =>
            at(`/api/tables/${tableId}/programs?name=${encodeURIComponent(name)}&watch=${watch}`)
          }
          watched={(watch) => <BeingRead watch={watch} />}
          onTaken={async (made) => {
            await queries.invalidateQueries({ queryKey: ['programs'] });
            await navigate(`/programs/${made.id}`);
          }}
        />
      </header>
      {programs.data?.length === 0 && (
        <section className={styles.empty}>
          <p>
            Half of the bad settings that operators chase are in the program: a forgotten feed word, the
            wrong way round, a lead-in that ends in the part.
          </p>
          <p>
            Hand one over as it goes to the {tableName}, and it is read line by line against the setting
            on the bench, before any of it is cut. It is never changed: what is put right is a copy.
          </p>
        </section>
      )}
      <ul className={styles.list}>
        {programs.data?.map((p) => (
          <li key={p.id} data-copy={p.copy_of !== null}>
            <Link to={`/programs/${p.id}`}>
              <Line line={p} units={units} />
            </Link>
          </li>
        ))}
      </ul>
    </main>
  );
}

function Line({ line, units }: { line: ProgramLine; units: ShopUnits }) {
  const gravest = line.stops ? 'stop' : line.looks ? 'look' : 'clear';
  return (
    <>
      <span className={styles.name}>
        <strong>{line.name}</strong>
        <span className="soft">{line.against || 'checked against no setting'}</span>
      </span>
      <span className={styles.verdict} data-gravest={gravest}>
        {line.verdict}
        {line.moved.length > 0 && <em> Moved since: check again.</em>}
      </span>
      <span className={styles.measure}>
        <b className="number">{line.pierces}</b> starts
      </span>
      <span className={styles.measure}>
        <b className="number">{showAlong('run', line.cut_mm / 1000, units).text}</b>{' '}
        {showAlong('run', line.cut_mm / 1000, units).unit} of cut
      </span>
      <span className={styles.measure}>
        <b className="number">{minutes(line.seconds)}</b> min
      </span>
      <span className={styles.measure}>
        <b className="number">{Math.round(100 * line.share_at_speed)}</b> % at speed
      </span>
      <span className={styles.measure}>
        {line.cost === null ? '' : <b className="number">{line.cost.toFixed(2)}</b>}
        {line.cost === null ? '' : ' a run'}
      </span>
    </>
  );
}

export const runOf = (mm: number, units: ShopUnits): string =>
  withUnit(showAlong('run', mm / 1000, units));
