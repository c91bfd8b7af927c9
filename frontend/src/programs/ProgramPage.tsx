import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showAlong, withUnit, type ShopUnits } from '../kit/units';
import { AgainstForm } from './AgainstForm';
import { PathPicture } from './PathPicture';
import styles from './programs.module.css';
import { minutes } from './clock';
import { runOf } from './ProgramsPage';
import { Contours } from './Contours';
import { Ways } from './Ways';
import {
  GRAVITY,
  programQuery,
  type Asked,
  type Finding,
  type Found,
  type Program,
  type SetWays,
} from './queries';

/** One program: what stops it, where, why, and what puts it right. */
export function ProgramPage() {
  const programId = Number(useParams().programId);
  const program = useQuery(programQuery(programId));
  if (program.isError && !program.data)
    return (
      <main className={styles.programs}>
        <Notice kind="refusal" title="This program cannot be shown">
          {refusalText(program.error)}
        </Notice>
        <Link to="/programs">All programs</Link>
      </main>
    );
  if (!program.data)
    return (
      <main className={styles.programs} aria-busy="true">
        <p>Reading it line by line…</p>
      </main>
    );
  return <Checked key={program.data.id} program={program.data} />;
}

function Checked({ program }: { program: Program }) {
  const units = useUnits();
  const [chosen, setChosen] = useState<number | null>(null);
  const [asked, setAsked] = useState<readonly Asked[]>([]);
  const [split, setSplit] = useState<SetWays | null>(null);
  const drawn = useDrawn(program.id, asked);
  const shown = asked.length > 0 && drawn.data ? drawn.data : null;
  const { found } = program;
  return (
    <main className={styles.program}>
      <header className={styles.top}>
        <Link to="/programs">All programs</Link>
        <h1>{program.name}</h1>
        <Figures program={program} units={units} />
      </header>
      <p className={styles.says} data-gravest={gravestOf(found.findings)} role="status">
        {found.verdict}.
      </p>
      <BeforeIt program={program} />
      <AgainstForm program={program} />
      <div className={styles.columns}>
        <Picture
          program={program}
          shown={shown}
          chosen={chosen}
          split={split}
          units={units}
          onChoose={setChosen}
        />
        <div className={styles.side}>
          {asked.length > 0 ? (
            <Remade
              program={program}
              asked={asked}
              drawn={drawn.data ?? null}
              refused={drawn.error}
              onLeave={() => setAsked([])}
            />
          ) : (
            <PutRight program={program} onDraw={setAsked} />
          )}
          <Findings
            findings={(shown ?? found).findings}
            onDraw={shown ? null : (f) => setAsked(askedOf([f]))}
            more={found.more_findings}
            chosen={chosen}
            onChoose={setChosen}
          />
        </div>
      </div>
      {program.written.length > 0 && <Written program={program} />}
      {program.thickness_mm !== null && found.contours.length > 0 && (
        <OtherSets programId={program.id} split={split} onSplit={setSplit} />
      )}
      <Contours program={program} chosen={chosen} onChoose={setChosen} units={units} />
      <Untold said={found.report.cannot_tell} />
    </main>
  );
}

/** The program drawn as it would be cut, with what was asked. */
function useDrawn(programId: number, asked: readonly Asked[]) {
  return useQuery({
    queryKey: ['remade', programId, asked],
    queryFn: () =>
      answered(
        api.POST('/api/programs/{program_id}/remade/preview', {
          params: { path: { program_id: programId } },
          body: { asked: [...asked] },
        }),
      ),
    enabled: asked.length > 0,
  });
}

function gravestOf(findings: readonly Finding[]): 'stop' | 'look' | 'clear' {
  if (findings.length === 0) return 'clear';
  return findings.some((f) => f.severity === 'stop') ? 'stop' : 'look';
}

/** What to know of it before it is run: the other half, and the parts. */
function BeforeIt({ program }: { program: Program }) {
  return (
    <>
      {program.half > 0 && (
        <p className={styles.half}>
          <strong>{program.half} of 2.</strong> {program.half_says}{' '}
          {program.other_half !== null && (
            <Link to={`/programs/${program.other_half}`}>
              {program.half === 1 ? 'What is cut after it' : 'What is cut before it'}
            </Link>
          )}
        </p>
      )}
      {program.fitted_says && (
        <Notice kind="caution" title="Other parts are fitted">
          {program.fitted_says}
        </Notice>
      )}
      {program.parts_says && (
        <Notice kind="caution" title="The parts may not last it">
          {program.parts_says}
        </Notice>
      )}
    </>
  );
}

interface PictureProps {
  program: Program;
  /** What is drawn and not written yet, in place of the program. */
  shown: Found | null;
  chosen: number | null;
  split: SetWays | null;
  units: ShopUnits;
  onChoose: (contour: number | null) => void;
}

/** The path on its sheet, over the original where the program is a copy of one. */
function Picture({ program, shown, chosen, split, units, onChoose }: PictureProps) {
  const [under, setUnder] = useState(false);
  const original = useQuery({
    ...programQuery(program.copy_of ?? 0),
    enabled: under && program.copy_of !== null,
  });
  const otherSet = useMemo(() => (split ? new Set(split.to_other) : null), [split]);
  const { found, sheet_x_mm: x, sheet_y_mm: y } = program;
  const beneath = under ? (original.data?.found ?? null) : null;
  return (
    <div>
      <PathPicture
        found={shown ?? found}
        sheet={x !== null && y !== null ? [x, y] : null}
        under={shown ? found : beneath}
        chosen={chosen}
        onChoose={onChoose}
        otherSet={otherSet}
        units={units}
      />
      {program.copy_of !== null && (
        <label className={styles.check}>
          <input type="checkbox" checked={under} onChange={(e) => setUnder(e.target.checked)} />
          Lay it over the original
        </label>
      )}
    </div>
  );
}

interface OtherSetsProps {
  programId: number;
  split: SetWays | null;
  onSplit: (split: SetWays | null) => void;
}

function OtherSets({ programId, split, onSplit }: OtherSetsProps) {
  const [timed, setTimed] = useState(false);
  return (
    <section className={styles.otherSets} aria-label="With other sets">
      <h2>With other sets</h2>
      {timed ? (
        <Ways programId={programId} shown={split} onShow={onSplit} />
      ) : (
        <>
          <p>
            Where the detail never reaches speed, a slower set cuts it and the fast one cuts the
            outlines.
          </p>
          <Button variant="outlined" onClick={() => setTimed(true)}>
            Time it with the shop’s other sets
          </Button>
        </>
      )}
    </section>
  );
}

function Untold({ said }: { said: readonly string[] }) {
  if (said.length === 0) return null;
  return (
    <section className={styles.untold}>
      <h2>What could not be told</h2>
      <ul>
        {said.map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
    </section>
  );
}

/** What can be put right by cutting a contour otherwise, of these findings. */
const askedOf = (findings: readonly Finding[]): Asked[] =>
  findings.flatMap((f) =>
    f.on_request && f.contour !== null ? [{ code: f.code, contour: f.contour }] : [],
  );

function Figures({ program, units }: { program: Program; units: ShopUnits }) {
  const { report } = program.found;
  return (
    <dl className={styles.figures}>
      <div>
        <dt>Time</dt>
        <dd className="number">{minutes(report.seconds)}</dd>
      </div>
      <div>
        <dt>Starts</dt>
        <dd className="number">{report.pierces}</dd>
      </div>
      <div>
        <dt>Cut</dt>
        <dd className="number">{runOf(report.cut_mm, units)}</dd>
      </div>
      <div>
        <dt>At speed</dt>
        <dd className="number">{Math.round(100 * report.share_at_speed)} %</dd>
      </div>
      {program.gas_l !== null && (
        <div>
          <dt>Gas</dt>
          <dd className="number">{withUnit(showAlong('gas', program.gas_l, units))}</dd>
        </div>
      )}
      <div>
        <dt>A run costs</dt>
        <dd className="number">{program.cost === null ? '?' : program.cost.toFixed(2)}</dd>
        <dd className={styles.small}>{program.cost_says}</dd>
      </div>
    </dl>
  );
}

/** The copy that is put right, the file, and a run counted on the parts. */
function PutRight({ program, onDraw }: { program: Program; onDraw: (asked: readonly Asked[]) => void }) {
  const onRequest = askedOf(program.found.findings);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const count = program.found.findings.filter((f) => f.by_itself).length;
  const path = { program_id: program.id };
  const put = useMutation({
    mutationFn: () => answered(api.POST('/api/programs/{program_id}/copies', { params: { path } })),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['programs'] });
      await navigate(`/programs/${made.id}`);
    },
  });
  const run = useMutation({
    mutationFn: () =>
      answered(api.POST('/api/programs/{program_id}/runs', { params: { path }, body: { times: 1 } })),
    onSuccess: (counted) => {
      say({ text: counted.says });
      return queries.invalidateQueries();
    },
  });
  const strike = useMutation({
    mutationFn: (out: boolean) =>
      answered(api.PUT('/api/programs/{program_id}/struck', { params: { path, query: { out } } })),
    onSuccess: async (_, out) => {
      await queries.invalidateQueries({ queryKey: ['programs'] });
      if (!out) return;
      say({ text: `${program.name} was taken off the list.`, undo: () => strike.mutate(false) });
      await navigate('/programs');
    },
  });
  return (
    <div className={styles.acts}>
      {count > 0 && (
        <Button variant="contained" disabled={put.isPending} onClick={() => put.mutate()}>
          {put.isPending ? 'Writing the copy…' : `Put ${count} right in a copy`}
        </Button>
      )}
      {onRequest.length > 1 && (
        <Button variant="outlined" onClick={() => onDraw(onRequest)}>
          {`Draw ${onRequest.length} put right`}
        </Button>
      )}
      <Button
        variant={count > 0 ? 'outlined' : 'contained'}
        href={at(`/api/programs/${program.id}/text`)}
        download
      >
        Save the file
      </Button>
      <Button variant="outlined" disabled={run.isPending} onClick={() => run.mutate()}>
        It was run: count it
      </Button>
      <Button onClick={() => strike.mutate(true)}>Take it off the list</Button>
      {put.isError && <Notice kind="refusal">{refusalText(put.error)}</Notice>}
      {run.isError && <Notice kind="refusal">{refusalText(run.error)}</Notice>}
    </div>
  );
}

/** Contours cut otherwise: drawn over what they are, and written only then. */
function Remade({
  program,
  asked,
  drawn,
  refused,
  onLeave,
}: {
  program: Program;
  asked: readonly Asked[];
  drawn: Found | null;
  refused: Error | null;
  onLeave: () => void;
}) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const write = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/programs/{program_id}/remade', {
          params: { path: { program_id: program.id } },
          body: { asked: [...asked] },
        }),
      ),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['programs'] });
      await navigate(`/programs/${made.id}`);
    },
  });
  const wrong = refused ?? write.error;
  return (
    <section className={styles.remade} aria-label="Drawn, not written yet">
      {wrong ? (
        <Notice kind="refusal" title="It cannot be cut so">
          {refusalText(wrong)}
        </Notice>
      ) : (
        <p>
          {drawn
            ? `Drawn as it would be cut, over what it is. Then: ${drawn.verdict.toLowerCase()}.`
            : 'Drawing it…'}
        </p>
      )}
      <div className={styles.acts}>
        {drawn && !wrong && (
          <Button variant="contained" disabled={write.isPending} onClick={() => write.mutate()}>
            Write it into a copy
          </Button>
        )}
        <Button variant="outlined" onClick={onLeave}>
          Leave it as it is
        </Button>
      </div>
    </section>
  );
}

function Findings({
  findings,
  onDraw,
  more,
  chosen,
  onChoose,
}: {
  findings: readonly Finding[];
  /** Asks for one to be drawn put right; null while something is drawn. */
  onDraw: ((finding: Finding) => void) | null;
  more: number;
  chosen: number | null;
  onChoose: (contour: number | null) => void;
}) {
  return (
    <ol className={styles.findings} aria-label="What was found">
      {findings.map((f, i) => (
        <li key={i} data-severity={f.severity} data-chosen={chosen !== null && f.contour === chosen}>
          <button
            type="button"
            aria-pressed={chosen !== null && f.contour === chosen}
            onClick={() => onChoose(f.contour === chosen ? null : f.contour)}
          >
            <span className={styles.gravity}>
              <i aria-hidden="true">{GRAVITY[f.severity].sign}</i> {GRAVITY[f.severity].word}
            </span>
            <strong>{f.title}</strong>
            <span className={styles.lineOf}>line {f.line}</span>
          </button>
          <p>{f.why}</p>
          <p className={styles.fix}>{f.fix}</p>
          {f.on_request && onDraw && (
            <Button variant="outlined" className={styles.draw ?? ''} onClick={() => onDraw(f)}>
              Draw it put right
            </Button>
          )}
        </li>
      ))}
      {more > 0 && <li>And {more} more.</li>}
    </ol>
  );
}

/** What was put right in a copy, as the lines that differ. */
function Written({ program }: { program: Program }) {
  return (
    <section aria-label="What was put right">
      <h2>What was put right</h2>
      <p>
        <Link to={`/programs/${program.copy_of ?? 0}`}>The original</Link> is kept as it came.
      </p>
      <ol className={styles.diff}>
        {program.written.map((w, i) => (
          <li key={i}>
            <span className="number">{w.line}</span>
            <del>{w.was || '(nothing)'}</del>
            <ins>{w.now}</ins>
            <span>{w.why}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
