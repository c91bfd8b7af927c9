import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { useTable, useUnits } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showLength, withUnit, type ShopUnits } from '../kit/units';
import { queryOf, useCutWith, type Of } from './CutWith';
import styles from './holes.module.css';
import { TryHole } from './TryHole';

type Holes = Schema['HolesAnswer'];
type Purpose = 'passes' | 'as_drawn' | 'drill_out' | 'tap';

const PURPOSES = [
  { value: 'passes', label: 'a bolt passes' },
  { value: 'tap', label: 'threaded' },
  { value: 'drill_out', label: 'drilled or reamed' },
  { value: 'as_drawn', label: 'just that size' },
] as const;

/** Holes that fit: what to draw for a bolt with this set in this plate, learned from holes that were tried. */
export function HolesPage() {
  const table = useTable();
  const units = useUnits();
  const { of, choice } = useCutWith(table?.id ?? 0);
  const holes = useQuery({
    queryKey: ['holes', table?.id, of],
    queryFn: () =>
      answered(
        api.GET('/api/tables/{table_id}/holes', {
          params: { path: { table_id: table?.id ?? 0 }, query: of ?? {} },
        }),
      ),
    enabled: table !== null && of !== null,
  });
  if (!table) return null;
  return (
    <main className={styles.holes}>
      <header>
        <div>
          <h1>Holes that fit</h1>
          <p>
            A plasma hole comes out smaller than it is drawn, a small one the more. Try a few with what
            you will put through them: then Orthotome knows what to draw.
          </p>
        </div>
        <div>{choice}</div>
      </header>
      {holes.isError && <Notice kind="refusal">{refusalText(holes.error)}</Notice>}
      {of && holes.data && (
        <div className={styles.columns}>
          <div>
            <Bolts holes={holes.data} units={units} />
            <OneHole tableId={table.id} of={of} units={units} />
            <p>
              <a
                className={styles.print}
                href={at(`/api/tables/${table.id}/holes.pdf?${queryOf(of)}`)}
                target="_blank"
                rel="noreferrer"
              >
                On paper, for the wall
              </a>
            </p>
          </div>
          <div>
            <TryHole tableId={table.id} of={of} units={units} />
            <Tried holes={holes.data} units={units} />
          </div>
        </div>
      )}
    </main>
  );
}

/** What to draw for each bolt; the figure is what the eye looks for. */
function Bolts({ holes, units }: { holes: Holes; units: ShopUnits }) {
  const tried = holes.tried.length;
  return (
    <section aria-label="What to draw" className={styles.bolts}>
      <h2>{holes.title}</h2>
      {tried === 0 && (
        <Notice kind="note" title="No hole tried in this plate yet">
          What stands here is what is usual. One trial piece with four holes makes it this shop’s own: on
          the Bench, choose Holes.
        </Notice>
      )}
      <ol>
        {holes.lines.map((l) => (
          <li key={l.bolt} data-known={l.known} data-drill={l.draw_mm === null}>
            <strong>{l.bolt}</strong>
            {l.draw_mm === null ? (
              <span>{l.sentence}</span>
            ) : (
              <>
                <b className="number">{withUnit(showLength(l.draw_mm, units))}</b>
                <span className="number">± {showLength(l.sd_mm ?? 0, units).text}</span>
                <small>{l.known ? '' : 'not tried: usual'}</small>
              </>
            )}
          </li>
        ))}
      </ol>
      {holes.says.map((s) => (
        <p key={s}>{s}</p>
      ))}
    </section>
  );
}

/** One hole that stands in no list. */
function OneHole({ tableId, of, units }: { tableId: number; of: Of; units: ShopUnits }) {
  const [wanted, setWanted] = useState<number | null>(null);
  const [purpose, setPurpose] = useState<Purpose>('passes');
  const found = useQuery({
    queryKey: ['hole to draw', tableId, of, wanted, purpose],
    queryFn: () =>
      answered(
        api.GET('/api/tables/{table_id}/holes/to-draw', {
          params: { path: { table_id: tableId }, query: { ...of, wanted_mm: wanted ?? 1, purpose } },
        }),
      ),
    enabled: wanted !== null,
    retry: false,
  });
  return (
    <section aria-label="Another size" className={styles.one}>
      <QuantityField
        label="Another size"
        quantity="length"
        unit={units.length_unit}
        help="of the bolt, the thread or the drill"
        onRead={setWanted}
      />
      <Choices label="For" value={purpose} choices={PURPOSES} onChoose={setPurpose} />
      {wanted !== null && found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {wanted !== null && found.data && <p className={styles.answer}>{found.data.sentence}</p>}
    </section>
  );
}

function Tried({ holes, units }: { holes: Holes; units: ShopUnits }) {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: ({ id, out }: { id: number; out: boolean }) =>
      answered(
        api.PUT('/api/tried-holes/{hole_id}/struck', {
          params: { path: { hole_id: id }, query: { out } },
        }),
      ),
    onSuccess: (_, { id, out }) => {
      if (out) say({ text: 'The hole was struck out.', undo: () => strike.mutate({ id, out: false }) });
      return queries.invalidateQueries({ queryKey: ['holes'] });
    },
  });
  const mm = (v: number) => withUnit(showLength(v, units));
  if (holes.tried.length === 0) return null;
  return (
    <section aria-label="Holes tried" className={styles.tried}>
      <h2>
        {holes.tried.length} {holes.tried.length === 1 ? 'hole' : 'holes'} tried
      </h2>
      <ul>
        {holes.tried.map((t) => (
          <li key={t.id}>
            <div>
              <strong>drawn {mm(t.hole.drawn_mm)}</strong>
              {t.through_mm !== null && (
                <>
                  , through <b className="number">{mm(t.through_mm)}</b>
                </>
              )}
              {t.hole.fell === false && ', its slug stayed in'}
              {t.hole.flat && ', flat at the lead-in'}
              <small>
                {new Date(t.tried_at).toLocaleDateString()}
                {t.tried_by && `, ${t.tried_by}`}
                {t.through_mm !== null && `. ${t.passes}.`}
              </small>
            </div>
            <Button onClick={() => strike.mutate({ id: t.id, out: true })}>Strike out</Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
