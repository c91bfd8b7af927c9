import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { answered, api } from '../kit/client';
import { NoTable } from '../kit/NoTable';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery, useTable } from '../kit/queries';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import { LeanPicture } from './LeanPicture';
import { fitting, torchQuery, type Moved, type Torch } from './queries';
import { Seats } from './Seats';
import { SlugSheet } from './SlugSheet';
import { Turns } from './Turns';
import styles from './alignment.module.css';

const MountDialog = lazy(async () => ({ default: (await import('./MountDialog')).MountDialog }));

/** How the jet stands, and how to set it upright. */
export function JetPage() {
  const table = useTable();
  const shop = useQuery(shopQuery);
  const torch = useQuery({ ...torchQuery(table?.id ?? 0), enabled: table !== null });
  if (table === null) return <NoTable />;
  if (torch.isError && !torch.data) return <Notice kind="refusal">{refusalText(torch.error)}</Notice>;
  if (!torch.data || !shop.data) return null;
  return <Alignment key={table.id} tableId={table.id} torch={torch.data} units={shop.data} />;
}

function Alignment({ tableId, torch, units }: { tableId: number; torch: Torch; units: ShopUnits }) {
  const [reading, setReading] = useState(false);
  const [describing, setDescribing] = useState(false);
  const { now } = torch;
  const turned = useTurned(tableId);
  const found = now.alignment;
  const leans = found !== null && found.corrections.length > 0;
  return (
    <main className={styles.torch}>
      <section className={styles.stands} aria-labelledby="stands">
        <h1 id="stands">How the jet of the {torch.table} stands</h1>
        <p className={styles.said}>{now.in_words}</p>
        {now.moved && <Knocked tableId={tableId} moved={now.moved} />}
        {!torch.swirl_known && (
          <Notice kind="note">
            No torch set is noted for this table: a clockwise swirl is taken, with the good side on the
            right.
          </Notice>
        )}
        <LeanPicture seat={now} targetDeg={torch.target_deg} />
        <p className={styles.from}>{fromWhat(now)}</p>
      </section>
      <section className={styles.cure} aria-labelledby="cure">
        <header>
          <h2 id="cure">{leans ? 'Turn it like this' : 'What to do now'}</h2>
          <Button variant="outlined" onClick={() => setDescribing(true)}>
            How it can be turned
          </Button>
        </header>
        {found && <Turns found={found} axes={torch.mount.axes} units={units} />}
        {torch.mount.axes.length === 0 && (
          <p className={styles.soft}>
            Nothing is said yet of how this torch can be turned: say it once, and every lean is told as
            turns of its own screws.
          </p>
        )}
        <Notice kind="caution" title="Before hands go near the torch">
          Power isolated at the source, as its manual says.
        </Notice>
        {turned.isError && <Notice kind="refusal">{refusalText(turned.error)}</Notice>}
        <div className={styles.acts}>
          {leans && (
            <Button variant="contained" disabled={turned.isPending} onClick={() => turned.mutate()}>
              It is turned: begin anew
            </Button>
          )}
          <Button variant={leans ? 'outlined' : 'contained'} onClick={() => setReading(true)}>
            Read a slug
          </Button>
        </div>
        <Seats tableId={tableId} torch={torch} units={units} />
      </section>
      {reading && (
        <SlugSheet tableId={tableId} torch={torch} units={units} onClose={() => setReading(false)} />
      )}
      {describing && (
        <Suspense fallback={null}>
          <MountDialog
            tableId={tableId}
            torch={torch}
            units={units}
            onClose={() => setDescribing(false)}
          />
        </Suspense>
      )}
    </main>
  );
}

function fromWhat(now: Torch['now']): string {
  if (now.readings === 0) return 'No readings yet in this seat.';
  const { moved } = now;
  const since = moved ? 'it stood otherwise' : 'the torch was seated';
  return `From ${now.readings} readings of ${sources(now)} cut since ${since} on ${day(moved?.at ?? now.seated_at)}.`;
}

/** Readings of one seat that disagree: what they say, and the seat that begins there if it was knocked. */
function Knocked({ tableId, moved }: { tableId: number; moved: Moved }) {
  const queries = useQueryClient();
  const say = useSay();
  const undo = () =>
    void answered(
      api.DELETE('/api/tables/{table_id}/seat', { params: { path: { table_id: tableId } } }),
    ).then(() => queries.invalidateQueries());
  const begin = useMutation({
    mutationFn: (slugId: number) =>
      answered(
        api.POST('/api/tables/{table_id}/slugs/{slug_id}/seat', {
          params: { path: { table_id: tableId, slug_id: slugId } },
        }),
      ),
    onSuccess: () => {
      say({ text: 'A seat begins there: the lean is learned from what was read since.', undo });
      return queries.invalidateQueries();
    },
  });
  const at = moved.slug_id;
  return (
    <Notice kind="caution" title="Its readings disagree">
      {moved.says}
      {begin.isError && <Notice kind="refusal">{refusalText(begin.error)}</Notice>}
      {at !== null && (
        <div className={styles.acts}>
          <Button variant="contained" disabled={begin.isPending} onClick={() => begin.mutate(at)}>
            It was: begin a seat there
          </Button>
        </div>
      )}
    </Notice>
  );
}

const counted = (n: number, name: string): string => `${n} ${name}${n === 1 ? '' : 's'}`;

/** What was read in a seat: its squares and its slugs. */
function sources(seat: Torch['now']): string {
  return [
    ...(seat.squares > 0 ? [counted(seat.squares, 'square')] : []),
    ...(seat.read_slugs > 0 ? [counted(seat.read_slugs, 'slug')] : []),
  ].join(' and ');
}

const day = (at: string): string => new Date(at).toLocaleDateString([], { dateStyle: 'medium' });

/** Notes that the torch was turned: a new seat, of which nothing is known yet. */
function useTurned(tableId: number) {
  const queries = useQueryClient();
  const say = useSay();
  const body = fitting({ kind: 'mount' });
  return useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/fittings', { params: { path: { table_id: tableId } }, body }),
      ),
    onSuccess: (fitted) => {
      const undo = () =>
        void answered(
          api.DELETE('/api/fittings/{fitting_id}', { params: { path: { fitting_id: fitted.id } } }),
        ).then(() => queries.invalidateQueries());
      say({ text: 'Torch turned: its lean is learned anew.', undo });
      return queries.invalidateQueries();
    },
  });
}
