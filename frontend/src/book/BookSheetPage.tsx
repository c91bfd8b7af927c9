import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { answered, api, type BookRow } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery } from '../kit/queries';
import { showAlong, withUnit, showLength, showSpeed, showThickness, type ShopUnits } from '../kit/units';
import { useSay } from '../kit/undo';
import styles from './book.module.css';
import { historyQuery, sheetQuery, type Sheet } from './queries';
import { RowDialog } from './RowDialog';
import { TrendChart } from './TrendChart';

/** A metal with one set and gas: four numbers over thickness, so that a mistyped row jumps out. */
export function BookSheetPage() {
  const [asked] = useSearchParams();
  const of = {
    metal: asked.get('metal') ?? '',
    torch_set_id: Number(asked.get('set')),
    gas: asked.get('gas') ?? '',
  };
  const sheet = useQuery(sheetQuery(of));
  const shop = useQuery(shopQuery);
  const [editing, setEditing] = useState<BookRow | 'new' | null>(null);
  if (sheet.isError && !sheet.data) return <Notice kind="refusal">{refusalText(sheet.error)}</Notice>;
  if (!sheet.data || !shop.data) return null;
  const s = sheet.data;
  const units = shop.data;
  const thickness = (mm: number) => showThickness(mm, units).text;
  return (
    <main className={styles.book}>
      <header className={styles.head}>
        <h1>
          {s.metal_label}, {s.torch_set.name}, {s.gas}
        </h1>
        <Link to="/book" className={styles.rowsFile}>
          All of the Book
        </Link>
        <Button variant="contained" onClick={() => setEditing('new')}>
          Type a row
        </Button>
      </header>
      {s.breaks.map((b) => (
        <Notice key={`${b.row_id} ${b.quantity}`} kind="refusal" title="▲ This row breaks the trend">
          {b.sentence}{' '}
          <button
            type="button"
            className={styles.mend}
            onClick={() => setEditing(s.rows.find((r) => r.id === b.row_id) ?? null)}
          >
            Correct the row
          </button>
        </Notice>
      ))}
      <div className={styles.charts}>
        <TrendChart
          sheet={s}
          quantity="speed_mm_min"
          title="Speed"
          unit={units.speed_unit}
          show={(v) => showSpeed(v, units).text}
          thickness={thickness}
          inLog
        />
        <TrendChart
          sheet={s}
          quantity="arc_voltage_v"
          title="Arc voltage"
          unit="V"
          show={(v) => v.toFixed(0)}
          thickness={thickness}
          inLog={false}
        />
        <TrendChart
          sheet={s}
          quantity="kerf_mm"
          title="Kerf"
          unit={units.length_unit}
          show={(v) => showLength(v, units).text}
          thickness={thickness}
          inLog={false}
        />
        <TrendChart
          sheet={s}
          quantity="pierce_delay_s"
          title="Pierce delay"
          unit="s"
          show={(v) => v.toFixed(2)}
          thickness={thickness}
          inLog
        />
      </div>
      <p className="soft">
        ■ rows of the Book, ◆ recipes proven here, line: what Orthotome reads between the rows, dotted:
        up to 15 % beyond them. Across: thickness in {units.length_unit}.
        {s.rows.length < 4 && ' With fewer than four rows there is no trend that one could break.'}
      </p>
      <ol className={styles.rowsList}>
        {s.rows.map((r) => (
          <RowLine key={r.id} row={r} units={units} sheet={s} onCorrect={() => setEditing(r)} />
        ))}
      </ol>
      {s.struck_out.length > 0 && (
        <details className={styles.struck}>
          <summary>Struck out: {s.struck_out.length}</summary>
          <ol className={styles.rowsList}>
            {s.struck_out.map((r) => (
              <RowLine key={r.id} row={r} units={units} sheet={s} onCorrect={() => setEditing(r)} />
            ))}
          </ol>
        </details>
      )}
      {editing && (
        <RowDialog
          of={s}
          row={editing === 'new' ? null : editing}
          units={units}
          onClose={() => setEditing(null)}
        />
      )}
    </main>
  );
}

function RowLine({
  row: r,
  units,
  sheet,
  onCorrect,
}: {
  row: BookRow;
  units: ShopUnits;
  sheet: Sheet;
  onCorrect: () => void;
}) {
  const [open, setOpen] = useState(false);
  const before = useQuery({ ...historyQuery(r.id), enabled: open });
  const change = useRowChange(r);
  const wrong = new Set(sheet.breaks.filter((b) => b.row_id === r.id).map((b) => b.quantity));
  return (
    <li data-wrong={wrong.size > 0}>
      <strong>
        {wrong.size > 0 && '▲ '}
        {r.plate}
      </strong>
      <span>
        <b data-wrong={wrong.has('speed_mm_min')}>{showSpeed(r.speed_mm_min, units).text}</b>{' '}
        {units.speed_unit}
      </span>
      <span>
        <b data-wrong={wrong.has('arc_voltage_v')}>{r.arc_voltage_v?.toFixed(1) ?? 'unknown'}</b> V
      </span>
      <span>
        cut <b>{showLength(r.cut_height_mm, units).text}</b>, pierce{' '}
        <b>{showLength(r.pierce_height_mm, units).text}</b>
      </span>
      <span>
        delay <b>{r.pierce_delay_s.toFixed(2)}</b> s
      </span>
      <span>
        kerf{' '}
        {r.kerf_assumed ? (
          <>not given, {showLength(r.kerf_mm, units).text} assumed</>
        ) : (
          <b>{showLength(r.kerf_mm, units).text}</b>
        )}
      </span>
      <span className={styles.from}>
        {r.source}
        {details(r, units)}
      </span>
      <span className={styles.rowActs}>
        <Button variant="outlined" onClick={onCorrect}>
          Correct
        </Button>
        {wrong.size > 0 && (
          <Button variant="text" disabled={change.isPending} onClick={() => change.mutate('right')}>
            It is right
          </Button>
        )}
        <Button variant="text" disabled={change.isPending} onClick={() => change.mutate('strike')}>
          {r.struck_out ? 'Put it back' : 'Strike out'}
        </Button>
        <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
          Before
        </Button>
      </span>
      {open && (
        <p className={styles.before}>
          {before.data?.length === 0
            ? 'This row stands as it was first written.'
            : before.data
                ?.map(
                  (b) =>
                    `${showSpeed(b.speed_mm_min, units).text} ${units.speed_unit}, ${b.arc_voltage_v ?? '?'} V, from ${b.source}`,
                )
                .join('; before that ')}
        </p>
      )}
    </li>
  );
}

/** Strikes a row out or puts it back, or says that it is right; each with a way back. */
function useRowChange(r: BookRow) {
  const queries = useQueryClient();
  const say = useSay();
  const struck = (out: boolean) =>
    answered(
      api.PUT('/api/book/rows/{row_id}/struck', {
        params: { path: { row_id: r.id }, query: { out } },
      }),
    );
  const right = (is: boolean) =>
    answered(
      api.PUT('/api/book/rows/{row_id}/right', {
        params: { path: { row_id: r.id }, query: { right: is } },
      }),
    );
  const refresh = () => queries.invalidateQueries();
  return useMutation({
    mutationFn: (what: 'strike' | 'right') => (what === 'strike' ? struck(!r.struck_out) : right(true)),
    onSuccess: async (_, what) => {
      await refresh();
      const back = what === 'strike' ? () => struck(r.struck_out) : () => right(false);
      say({
        text: what === 'right' ? 'Taken as right.' : r.struck_out ? 'Put back.' : 'Struck out.',
        undo: () => void back().then(refresh),
      });
    },
  });
}

function details(r: BookRow, units: ShopUnits): string {
  const some = [
    r.gas_pressure_kpa && `gas ${withUnit(showAlong('pressure', r.gas_pressure_kpa, units))}`,
    r.gas_flow_l_min && withUnit(showAlong('flow', r.gas_flow_l_min, units)),
    r.shield_gas && `shield ${r.shield_gas}`,
    r.surface,
    r.bed && `${r.bed} bed`,
    r.water_level_mm !== null &&
      `water ${showLength(r.water_level_mm, units).text} ${units.length_unit} from the underside`,
    r.least_thickness_mm && `sensible from ${showThickness(r.least_thickness_mm, units).text}`,
    r.most_thickness_mm && `up to ${showThickness(r.most_thickness_mm, units).text}`,
  ].filter(Boolean);
  return some.length === 0 ? '' : ` (${some.join(', ')})`;
}
