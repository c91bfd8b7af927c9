import { DEFAULT_TARGET, DROSS_EFFORT } from '../kit/words.gen';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { answered, api, type Schema, type TorchSet } from '../kit/client';
import { Choices } from '../kit/Choices';
import { forget, useDraft } from '../kit/draft';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { metalsQuery, shopQuery, tablesQuery, torchSetsQuery } from '../kit/queries';
import { useSettings } from '../kit/settings';
import { inInches, showLength, withUnit, type ShopUnits, showThickness } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import { NewTable } from './NewTable';
import { NewTorchSet } from '../torch/NewTorchSet';
import { rowsOfQuery, startQuery } from './queries';
import { StartNumbers, withTyped, type Typed } from './StartNumbers';
import { TargetChooser, type ChosenTarget } from './TargetChooser';
import { roughWorkQuery } from '../torch/queries';
import kit from '../kit/kit.module.css';
import styles from './trial.module.css';

type Start = Schema['StartAnswer'];
type Table = Schema['TableAnswer'];
type Metal = Schema['MetalAnswer'];

/** What is typed of a trial before it is opened. */
interface Kept {
  metal: string;
  thickness: number | null;
  /** The thickness as it was typed: 3/16, 10 ga. */
  typed: string;
  setId: number | null;
  gas: string | null;
  target: ChosenTarget;
  title: string;
}

/** Plate is named in inches, also where small lengths are said in thousandths. */
const plateUnit = ({ length_unit: unit }: ShopUnits): ShopUnits['length_unit'] =>
  unit === 'thou' ? 'in' : unit;

const brought = (mm: number | null, units: ShopUnits): string =>
  mm === null ? '' : showThickness(mm, { ...units, length_unit: plateUnit(units) }).text;

/** The set that is fitted: as chosen, as brought along by name, or as the table has it; of several, nobody may have said. */
function fittedOf(
  sets: readonly TorchSet[],
  setId: number | null,
  named: string | null,
  table: Table | undefined,
): TorchSet | undefined {
  return (
    sets.find((s) => s.id === setId) ??
    sets.find((s) => s.name === named) ??
    sets.find((s) => s.id === table?.torch_set?.id) ??
    (sets.length === 1 ? sets[0] : undefined)
  );
}

/** What is typed of a trial; it outlives any side trip, and begins with the job that was brought along. */
function useKept(asked: URLSearchParams) {
  return useDraft<Kept>(`new trial ${asked.toString()}`, {
    metal: asked.get('metal') ?? 'mild_steel',
    thickness: Number(asked.get('thickness')) || null,
    typed: '',
    setId: Number(asked.get('set')) || null,
    gas: asked.get('gas'),
    target: DEFAULT_TARGET,
    title: '',
  });
}

/** From a bare plate to the first cut: metal and thickness are enough, the rest is filled in. */
export function NewTrialPage() {
  const tables = useQuery(tablesQuery);
  const sets = useQuery(torchSetsQuery);
  const metals = useQuery(metalsQuery);
  const shop = useQuery(shopQuery);
  if (!tables.data || !sets.data || !metals.data || !shop.data) return null;
  return <NewTrial tables={tables.data} sets={sets.data} metals={metals.data} units={shop.data} />;
}

interface NewTrialProps {
  tables: readonly Table[];
  sets: TorchSet[];
  metals: readonly Metal[];
  units: ShopUnits;
}

function NewTrial({ tables, sets, metals, units }: NewTrialProps) {
  const settings = useSettings();
  const [asked] = useSearchParams(); // a job brought along from choosing the set
  const [kept, setKept] = useKept(asked);
  const { metal, thickness, gas, target, title } = kept;
  const keep = (some: Partial<Kept>) => setKept((was) => ({ ...was, ...some }));
  const table = tables.find((t) => t.id === settings.tableId) ?? tables[0];
  const fitted = fittedOf(sets, kept.setId, asked.get('named'), table);
  return (
    <main className={styles.newTrial}>
      <section aria-label="The job">
        <h1>New trial</h1>
        {table ? (
          <Choices
            label="Table"
            value={table.id}
            choices={tables.map((t) => ({ value: t.id, label: t.name }))}
            onChoose={settings.setTableId}
          />
        ) : (
          <NewTable />
        )}
        <Plate kept={kept} metals={metals} units={units} onKeep={keep} />
        <SetChoice
          sets={sets}
          chosen={fitted}
          onChoose={(id) => {
            keep({ setId: id, gas: null });
          }}
          fittedId={table?.torch_set?.id}
          compare={`/choose?${new URLSearchParams({ metal, thickness: String(thickness ?? 6) }).toString()}`}
        />
        <GasChoice metal={metal} fitted={fitted} gas={gas} onChoose={(to) => keep({ gas: to })} />
        <label className={kit.named}>
          Name, if you like
          <input
            value={title}
            maxLength={120}
            onChange={(e) => keep({ title: e.target.value })}
            placeholder="what the parts are for"
          />
        </label>
      </section>
      <section aria-label="Square">
        <TargetChooser
          thickness={thickness}
          target={target}
          onChange={(to) => keep({ target: to })}
          effort={DROSS_EFFORT}
        />
      </section>
      {thickness !== null && fitted && table ? (
        <Ready
          key={`${metal} ${thickness} ${fitted.id} ${gas ?? ''}`}
          gas={gas ?? fitted.gas}
          metal={metal}
          thickness={thickness}
          fitted={fitted}
          tableId={table.id}
          target={target}
          title={title}
          draft={asked.toString()}
        />
      ) : (
        <section aria-label="Starting numbers">
          <p className={styles.none}>
            {thickness === null ? 'Give the thickness' : 'Say which torch set is fitted'}, and the
            starting numbers stand here with where each came from.
          </p>
        </section>
      )}
    </main>
  );
}

interface PlateProps {
  kept: Kept;
  metals: readonly Metal[];
  units: ShopUnits;
  onKeep: (some: Partial<Kept>) => void;
}

/** Metal and thickness: what there must be. */
function Plate({ kept, metals, units, onKeep }: PlateProps) {
  const { metal, thickness } = kept;
  const chosen = metals.find((m) => m.name === metal);
  // What the field shows until it is typed into: what was typed before, or the thickness that was brought along.
  const [before] = useState(kept);
  return (
    <>
      <Choices
        label="Metal"
        value={metal}
        choices={metals.map((m) => ({ value: m.name, label: m.label }))}
        onChoose={(to) => onKeep({ metal: to })}
      />
      <QuantityField
        label="Thickness"
        quantity="length"
        unit={plateUnit(units)}
        metal={metal}
        means="thickness"
        initial={before.typed || brought(before.thickness, units)}
        onText={(to) => onKeep({ typed: to })}
        onRead={(to) => onKeep({ thickness: to })}
        help={
          thickness === null
            ? thicknessHelp(chosen?.gauges ?? [], chosen?.label ?? metal, units)
            : meant(thickness, units)
        }
      />
    </>
  );
}

function thicknessHelp(gauges: readonly number[], label: string, units: ShopUnits): string {
  const gauge =
    gauges.length > 0 ? `, or a gauge of ${label} (14 ga)` : `; ${label} has no gauge numbers`;
  return `${inInches(units) ? '5/16, 0.25' : '8, 5/16, 0.25 in'}${gauge}`;
}

/** What was typed in the shop's unit, to be held against the calliper. */
function meant(mm: number, units: ShopUnits): string {
  return `${withUnit(showLength(mm, units))}. Plate is seldom just what it is sold as: measure it if you can.`;
}

function SetChoice({
  sets,
  chosen,
  onChoose,
  fittedId,
  compare,
}: {
  sets: TorchSet[];
  chosen: TorchSet | undefined;
  onChoose: (id: number) => void;
  fittedId: number | undefined;
  compare: string;
}) {
  const [adding, setAdding] = useState(false);
  const added = (id: number) => {
    setAdding(false);
    onChoose(id);
  };
  if (sets.length === 0 || adding) return <NewTorchSet onAdded={added} />;
  return (
    <>
      <Choices
        label="Torch set fitted"
        value={chosen?.id ?? null}
        choices={sets.map((s) => ({
          value: s.id,
          label: <SetLabel set={s} fitted={s.id === fittedId} />,
        }))}
        onChoose={onChoose}
      />
      <span className={styles.quietRow}>
        <Link to={compare} className={styles.quiet}>
          Which set? Compare them
        </Link>
        <button type="button" className={styles.quiet} onClick={() => setAdding(true)}>
          Another torch set
        </button>
      </span>
    </>
  );
}

/** The gases that the Book knows for this set and metal, where there is more than one. */
function GasChoice({
  metal,
  fitted,
  gas,
  onChoose,
}: {
  metal: string;
  fitted: TorchSet | undefined;
  gas: string | null;
  onChoose: (gas: string) => void;
}) {
  const own = useQuery({ ...rowsOfQuery(metal, fitted?.id ?? 0), enabled: fitted !== undefined });
  if (!fitted || !own.data) return null;
  const gases = [...new Set([fitted.gas, ...own.data.map((r) => r.gas)])];
  if (gases.length < 2) return null;
  return (
    <Choices
      label="Plasma gas"
      value={gas ?? fitted.gas}
      choices={gases.map((g) => ({ value: g, label: g }))}
      onChoose={onChoose}
    />
  );
}

function SetLabel({ set, fitted }: { set: TorchSet; fitted: boolean }) {
  return (
    <span>
      {set.name}
      <small className={styles.under}>
        {set.amperage_a} A, {set.gas}
        {fitted && ', fitted'}
        {set.example && ', example'}
      </small>
    </span>
  );
}

/** For a rough job: what lies in the tray that will do. */
function ForRoughWork({ torchSetId, target }: { torchSetId: number; target: ChosenTarget }) {
  const rough = useQuery(roughWorkQuery(torchSetId, target.bevel_deg, target.dross_grade));
  if (!rough.data?.says) return null;
  return (
    <Notice kind="note">
      {rough.data.says} <Link to="/torch">Fit it</Link>
    </Notice>
  );
}

interface ReadyProps {
  metal: string;
  thickness: number;
  fitted: TorchSet;
  gas: string;
  tableId: number;
  target: ChosenTarget;
  title: string;
  draft: string;
}

const typedKey = (p: Pick<ReadyProps, 'metal' | 'thickness' | 'gas'>, setId: number): string =>
  `numbers of ${p.metal} ${p.thickness} ${setId} ${p.gas}`;

function Ready({ metal, thickness, fitted, gas, tableId, target, title, draft }: ReadyProps) {
  const found = useQuery(startQuery(metal, thickness, fitted.id, gas, tableId));
  const [typed, setTyped] = useDraft<Typed>(typedKey({ metal, thickness, gas }, fitted.id), {});
  if (found.isError && !found.data) return <Notice kind="refusal">{refusalText(found.error)}</Notice>;
  if (!found.data) return null;
  const values = withTyped(found.data.values, typed);
  return (
    <>
      <ForRoughWork torchSetId={fitted.id} target={target} />
      <section aria-label="Starting numbers">
        <StartNumbers
          found={found.data}
          values={values}
          typed={typed}
          onType={(name, value) => setTyped((before) => ({ ...before, [name]: value }))}
          rowsPage={`/book/import?${new URLSearchParams({ set: fitted.name, metal, back: `/trials/new${draft ? `?${draft}` : ''}` }).toString()}`}
          fitted={fitted}
        />
      </section>
      {values && (
        <div className={styles.openBar}>
          {found.data.warnings.map((w) => (
            <Notice key={w} kind="caution">
              {w}
            </Notice>
          ))}
          <OpenButton
            start={values}
            {...{ metal, thickness, fitted, gas, tableId, target, title, draft }}
          />
        </div>
      )}
    </>
  );
}

function OpenButton({
  start,
  metal,
  thickness,
  fitted,
  gas,
  tableId,
  target,
  title,
  draft,
}: ReadyProps & { start: NonNullable<Start['values']> }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { setTableId } = useSettings();
  const open = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/trials', {
          body: {
            table_id: tableId,
            torch_set_id: fitted.id,
            metal,
            thickness_mm: thickness,
            gas,
            start,
            target,
            title,
          },
        }),
      ),
    onSuccess: async () => {
      setTableId(tableId);
      forget(`new trial ${draft}`);
      forget(typedKey({ metal, thickness, gas }, fitted.id));
      await queries.invalidateQueries();
      await navigate('/bench');
    },
  });
  return (
    <>
      {open.isError && <Notice kind="refusal">{refusalText(open.error)}</Notice>}
      <SaveButton size="large" disabled={open.isPending} onClick={() => open.mutate()}>
        Open the trial
      </SaveButton>
    </>
  );
}
