import Button from '@mui/material/Button';
import {
  keepPreviousData,
  skipToken,
  useMutation,
  useQuery,
  useQueryClient,
} from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { useDraft } from '../kit/draft';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { useTable, useUnits } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits, withUnit } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import { useCutWith, type Of } from './CutWith';
import { Earlier } from './Earlier';
import { Gantry } from './Gantry';
import { measuresOf, type Judged, type Measures, type Typed } from './measured';
import { ProofPiece, type Proof } from './ProofPiece';
import { measuredQuery, settingsQuery, useChange, type Page } from './queries';
import { toolOf, useTools } from './ReadWith';
import styles from './square.module.css';
import { TypedPiece } from './TypedPiece';
import { Verdict } from './Verdict';

interface Draft {
  pieces: readonly Typed[];
  kerf: number | null;
  thickness: number | null;
  filled: number; // times that sizes were filled in: the fields begin anew
}

const START: Draft = {
  pieces: [
    { key: 0, kind: 'rectangle', sizes: {}, tool: null },
    { key: 1, kind: 'slot', sizes: {}, tool: null },
  ],
  kerf: null,
  thickness: null,
  filled: 0,
};

/** Whether the table cuts square and to scale, from pieces that were measured. */
export function SquarePage() {
  const table = useTable();
  const page = useQuery({ ...settingsQuery(table?.id ?? 0), enabled: table !== null });
  if (page.isError && !page.data) return <Notice kind="refusal">{refusalText(page.error)}</Notice>;
  if (!table || !page.data) return null;
  return <Square key={table.id} page={page.data} />;
}

const lengthText = (mm: number | null, units: ShopUnits): string =>
  mm === null ? '' : showLength(mm, units).text;

interface CutOneProps {
  page: Page;
  cutWith: ReturnType<typeof useCutWith>;
  onFill: (proof: Proof) => void;
}

/** A rectangle for the sheet as it lies, to be measured. */
function CutOne({ page, cutWith: { of, choice }, onFill }: CutOneProps) {
  const units = useUnits();
  const [sheetX, setSheetX] = useState(page.settings.extent_x_mm ?? null);
  const [sheetY, setSheetY] = useState(page.settings.extent_y_mm ?? null);
  return (
    <section className={styles.cut} aria-label="Cut one for it">
      <h2>Cut one for it</h2>
      <div className={styles.around}>
        {choice}
        <QuantityField
          label="Sheet, X"
          quantity="length"
          unit={units.length_unit}
          initial={lengthText(sheetX, units)}
          onRead={setSheetX}
        />
        <QuantityField
          label="Sheet, Y"
          quantity="length"
          unit={units.length_unit}
          initial={lengthText(sheetY, units)}
          onRead={setSheetY}
        />
      </div>
      {of && sheetX !== null && sheetY !== null && (
        <ProofPiece
          tableId={page.table_id}
          name="rectangle"
          of={of}
          more={{ sheet_x_mm: sheetX, sheet_y_mm: sheetY }}
        >
          {(proof) => <Button onClick={() => onFill(proof)}>It is cut: fill in what was drawn</Button>}
        </ProofPiece>
      )}
    </section>
  );
}

/** What the pieces say of the table, once enough of them is typed. */
function useJudged(page: Page, measures: ReturnType<typeof measuresOf>) {
  return useQuery({
    queryKey: ['judged', page.table_id, page.version, measures],
    queryFn: measures
      ? () =>
          answered(
            api.POST('/api/machine-measures/judged', {
              params: { query: { table_id: page.table_id } },
              body: measures,
            }),
          )
      : skipToken,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

function Square({ page }: { page: Page }) {
  const units = useUnits();
  const { change, error } = useChange(page);
  const cutWith = useCutWith(page.table_id);
  const tools = useTools().data ?? [];
  const [draft, setDraft] = useDraft(`square ${page.table_id}`, START);
  const drives = page.settings.drive_distance_mm ?? null;
  const { kerf, thickness } = draft;
  const measures = measuresOf(draft.pieces, {
    kerf,
    drives,
    thickness,
    u: (t) => toolOf(tools, t.tool)?.u_mm ?? null,
  });
  const judged = useJudged(page, measures);
  const kept = useQuery(measuredQuery(page.table_id));
  const pieces = (now: (all: readonly Typed[]) => readonly Typed[]) =>
    setDraft((d) => ({ ...d, pieces: now(d.pieces) }));
  const set = (key: number, name: string, value: number | null) =>
    pieces((all) =>
      all.map((t) => (t.key === key ? { ...t, sizes: { ...t.sizes, [name]: value } } : t)),
    );
  const add = (kind: Typed['kind']) =>
    pieces((all) => [
      ...all,
      { key: Math.max(...all.map((t) => t.key)) + 1, kind, sizes: {}, tool: null },
    ]);
  const fill = (proof: Proof) =>
    setDraft((d) => ({ ...d, kerf: proof.kerf_mm, pieces: drawn(proof), filled: d.filled + 1 }));
  return (
    <main className={styles.square}>
      <h1>Square and true</h1>
      <p className={styles.intro}>
        Cut a rectangle as large as the sheet allows, and a slot or two: their sizes tell a gantry out of
        square, an axis out of scale and a kerf apart. X runs to the right, Y away from you.
      </p>
      <CutOne page={page} cutWith={cutWith} onFill={fill} />
      <div className={styles.columns}>
        <div className={styles.typed} key={draft.filled}>
          <div className={styles.around}>
            <QuantityField
              label="Kerf in the program"
              quantity="length"
              unit={units.length_unit}
              initial={lengthText(kerf, units)}
              onRead={(v) => setDraft((d) => ({ ...d, kerf: v }))}
              help="the whole width"
            />
            <QuantityField
              label="Plate"
              quantity="length"
              unit={units.length_unit}
              initial={lengthText(thickness, units)}
              onRead={(v) => setDraft((d) => ({ ...d, thickness: v }))}
              help="for holes"
            />
          </div>
          {error !== null && <Notice kind="refusal">{refusalText(error)}</Notice>}
          {draft.pieces.map((t) => (
            <TypedPiece
              key={t.key}
              typed={t}
              tools={tools}
              units={units}
              onSize={set}
              onTool={(key, tool) =>
                pieces((all) => all.map((t) => (t.key === key ? { ...t, tool } : t)))
              }
            />
          ))}
          <div className={styles.acts}>
            <Button variant="outlined" onClick={() => add('rectangle')}>
              Another rectangle
            </Button>
            <Button variant="outlined" onClick={() => add('slot')}>
              Another slot
            </Button>
            <Button variant="outlined" onClick={() => add('hole')}>
              A hole
            </Button>
            <Button onClick={() => setDraft((d) => ({ ...START, filled: d.filled + 1 }))}>
              Clear all of it
            </Button>
          </div>
          <Gantry page={page} change={change} />
        </div>
        <div className={styles.says}>
          {measures === null && (
            <p className="soft">
              {kerf === null
                ? 'Say what kerf the program made room for, and a size: what they tell stands here.'
                : 'Type what is drawn and what you read: what they tell stands here.'}
            </p>
          )}
          {measures !== null && judged.isError && (
            <Notice kind="refusal" title="No table cuts so">
              {refusalText(judged.error)}
            </Notice>
          )}
          {measures !== null && !judged.isError && judged.data && (
            <>
              <Verdict judged={judged.data} units={units} />
              {cutWith.of && <WriteKerf judged={judged.data} of={cutWith.of} units={units} />}
              <Keep tableId={page.table_id} measures={measures} />
            </>
          )}
        </div>
      </div>
      <Earlier kept={kept.data ?? []} units={units} />
    </main>
  );
}

/** What a rectangle with its window is drawn as: the sizes are left to be read. */
function drawn(proof: Proof): Typed[] {
  const [x = null, y = null] = proof.size_mm;
  const outside: Typed = {
    key: 0,
    kind: 'rectangle',
    sizes: { nominal_x: x, nominal_y: y },
    tool: null,
  };
  const inside: Typed = { key: 1, kind: 'slot', sizes: { nominal: proof.window_mm }, tool: null };
  return [outside, inside];
}

/** Another kerf than the program made room for, written into the setting that it was cut with. */
function WriteKerf({
  judged,
  of,
  units,
}: {
  judged: Judged;
  of: Of;
  units: ReturnType<typeof useUnits>;
}) {
  const queries = useQueryClient();
  const say = useSay();
  const write = useMutation({
    mutationFn: (kerf_mm: number) => answered(api.PUT('/api/kerf', { body: { ...of, kerf_mm } })),
    onSuccess: (done) => {
      say({
        text: done.sentence,
        undo: () =>
          void answered(api.PUT('/api/kerf', { body: { ...of, kerf_mm: done.was_mm } })).then(() =>
            queries.invalidateQueries(),
          ),
      });
      return queries.invalidateQueries();
    },
  });
  const kerf = judged.report.kerf_mm;
  if (!kerf || !judged.findings.some((f) => f.code === 'kerf_differs')) return null;
  const rounded = Math.round(kerf.value * 100) / 100;
  return (
    <>
      <SaveButton variant="outlined" disabled={write.isPending} onClick={() => write.mutate(rounded)}>
        Write {withUnit(showLength(rounded, units))} as this setting’s kerf
      </SaveButton>
      {write.isError && <Notice kind="refusal">{refusalText(write.error)}</Notice>}
    </>
  );
}

/** Kept with the table, with what was done before it was cut. */
function Keep({ tableId, measures }: { tableId: number; measures: Measures }) {
  const [note, setNote] = useState('');
  const queries = useQueryClient();
  const say = useSay();
  const keep = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/measured', {
          params: { path: { table_id: tableId } },
          body: { measures, note },
        }),
      ),
    onSuccess: () => {
      setNote('');
      say({ text: 'Kept with the table. Correct it, cut again, and measure again.' });
      return queries.invalidateQueries({ queryKey: ['measured'] });
    },
  });
  return (
    <>
      <TextField
        label="What was done before this was cut"
        value={note}
        most={400}
        placeholder="squared the gantry, changed the steps …"
        onType={setNote}
      />
      <SaveButton disabled={keep.isPending} onClick={() => keep.mutate()}>
        Keep this measurement
      </SaveButton>
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
    </>
  );
}
