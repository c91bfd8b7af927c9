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
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { useTable, useUnits } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showLength, withUnit, type ShopUnits } from '../kit/units';
import { Earlier } from './Earlier';
import { ASKED, measuresOf, type Measures, type Typed } from './measured';
import { measuredQuery, settingsQuery, useChange, type Page } from './queries';
import styles from './square.module.css';
import { Verdict } from './Verdict';

const START: readonly Typed[] = [
  { key: 0, kind: 'rectangle', sizes: {} },
  { key: 1, kind: 'slot', sizes: {} },
];

/** What sizes are read with, one sigma in mm: usual figures until the shop's own are known. */
const READ_WITH = [
  { value: 0.05, label: 'a good calliper' },
  { value: 0.1, label: 'a calliper' },
  { value: 0.5, label: 'a tape' },
] as const;

/** Whether the table cuts square and to scale, from pieces that were measured. */
export function SquarePage() {
  const table = useTable();
  const page = useQuery({ ...settingsQuery(table?.id ?? 0), enabled: table !== null });
  if (page.isError && !page.data) return <Notice kind="refusal">{refusalText(page.error)}</Notice>;
  if (!table || !page.data) return null;
  return <Square key={table.id} page={page.data} />;
}

function Square({ page }: { page: Page }) {
  const units = useUnits();
  const { change, error } = useChange(page);
  const [typed, setTyped] = useState(START);
  const [kerf, setKerf] = useState<number | null>(null);
  const [thickness, setThickness] = useState<number | null>(null);
  const [u, setU] = useState<number>(0.1);
  const [note, setNote] = useState('');
  const drives = page.settings.drive_distance_mm ?? null;
  const measures = measuresOf(typed, { kerf, drives, thickness, u });
  const judged = useQuery({
    queryKey: ['judged', measures],
    queryFn: measures
      ? () => answered(api.POST('/api/machine-measures/judged', { body: measures }))
      : skipToken,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const kept = useQuery(measuredQuery(page.table_id));
  const queries = useQueryClient();
  const say = useSay();
  const keep = useMutation({
    mutationFn: (typedNow: Measures) =>
      answered(
        api.POST('/api/tables/{table_id}/measured', {
          params: { path: { table_id: page.table_id } },
          body: { measures: typedNow, note },
        }),
      ),
    onSuccess: () => {
      setNote('');
      say({ text: 'Kept with the table. Correct it, cut again, and measure again.' });
      return queries.invalidateQueries({ queryKey: ['measured'] });
    },
  });
  const set = (key: number, name: string, value: number | null) =>
    setTyped((all) =>
      all.map((t) => (t.key === key ? { ...t, sizes: { ...t.sizes, [name]: value } } : t)),
    );
  const add = (kind: Typed['kind']) =>
    setTyped((all) => [...all, { key: Math.max(...all.map((t) => t.key)) + 1, kind, sizes: {} }]);
  return (
    <main className={styles.square}>
      <h1>Square and true</h1>
      <p className={styles.intro}>
        Cut a rectangle as large as the sheet allows, and a slot or two: their sizes tell a gantry out of
        square, an axis out of scale and a kerf apart. X runs to the right, Y away from you.
      </p>
      <div className={styles.columns}>
        <div className={styles.typed}>
          <div className={styles.around}>
            <QuantityField
              label="Kerf in the program"
              quantity="length"
              unit={units.length_unit}
              onRead={setKerf}
              help="the whole width"
            />
            <QuantityField
              label="Between the gantry’s drives"
              quantity="length"
              unit={units.length_unit}
              whenLeft
              initial={drives === null ? '' : showLength(drives, units).text}
              onRead={(v) => {
                if (v !== null && v !== drives) change({ drive_distance_mm: v });
              }}
              help="kept with the table"
            />
            <QuantityField
              label="Plate"
              quantity="length"
              unit={units.length_unit}
              onRead={setThickness}
              help="for holes"
            />
          </div>
          {error !== null && <Notice kind="refusal">{refusalText(error)}</Notice>}
          <Choices label="Read with" value={u} choices={READ_WITH} onChoose={setU} />
          {typed.map((t) => (
            <Piece key={t.key} typed={t} units={units} onSize={set} />
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
          </div>
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
              <TextField
                label="What was done before this was cut"
                value={note}
                most={400}
                placeholder="squared the gantry, changed the steps …"
                onType={setNote}
              />
              <Button
                variant="contained"
                disabled={keep.isPending}
                onClick={() => keep.mutate(measures)}
              >
                Keep this measurement
              </Button>
              {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
              <p className="soft">Read to {withUnit(showLength(u, units))}, one sigma.</p>
            </>
          )}
        </div>
      </div>
      <Earlier kept={kept.data ?? []} units={units} />
    </main>
  );
}

const NAMES = { rectangle: 'A rectangle', slot: 'A slot', hole: 'A hole' } as const;

function Piece({
  typed,
  units,
  onSize,
}: {
  typed: Typed;
  units: ShopUnits;
  onSize: (key: number, name: string, value: number | null) => void;
}) {
  return (
    <fieldset className={styles.piece}>
      <legend>{NAMES[typed.kind]}</legend>
      <Sketch kind={typed.kind} />
      <div className={styles.fields}>
        {ASKED[typed.kind].map(([name, label]) => (
          <QuantityField
            key={name}
            label={label}
            quantity="length"
            unit={units.length_unit}
            help={name === 'd1_mm' ? 'from the zero’s corner' : undefined}
            onRead={(v) => onSize(typed.key, name, v)}
          />
        ))}
      </div>
    </fieldset>
  );
}

/** Where each size is read, on the piece as it lies on the table. */
function Sketch({ kind }: { kind: Typed['kind'] }) {
  return (
    <svg className={styles.sketch} viewBox="0 0 120 90" aria-hidden="true">
      {kind === 'rectangle' && (
        <>
          <rect x="14" y="12" width="92" height="60" />
          <path d="M14 72L106 12" data-line="a" />
          <path d="M14 12L106 72" data-line="b" />
          <text x="92" y="34">
            A
          </text>
          <text x="92" y="62">
            B
          </text>
          <circle cx="14" cy="72" r="3.5" />
          <text x="56" y="86">
            X
          </text>
          <text x="2" y="45">
            Y
          </text>
        </>
      )}
      {kind === 'slot' && (
        <>
          <path d="M8 12H112V76H8Z M44 28H76V60H44Z" fillRule="evenodd" data-solid />
          <path d="M44 44H76" data-line="a" />
          <path d="M60 28V60" data-line="b" />
        </>
      )}
      {kind === 'hole' && (
        <>
          <path d="M8 12H112V76H8Z" data-solid />
          <circle cx="60" cy="44" r="20" data-hole />
          <path d="M40 44H80" data-line="a" />
          <path d="M60 24V64" data-line="b" />
        </>
      )}
    </svg>
  );
}
