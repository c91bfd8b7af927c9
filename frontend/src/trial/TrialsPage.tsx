import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Trial, TrialLine } from '../kit/client';
import { FileButton } from '../kit/FileButton';
import { CutThumb } from '../kit/CutThumb';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery, tablesQuery, trialsQuery } from '../kit/queries';
import { useSettings } from '../kit/settings';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './trial.module.css';

const SHOWN_AT_ONCE = 60;

/** Every trial of the shop, newest first, each with its last cut seen end-on. */
export function TrialsPage() {
  const [most, setMost] = useState(SHOWN_AT_ONCE);
  const [sought, setSought] = useState('');
  const trials = useQuery(trialsQuery(useDeferredValue(sought), most));
  const shop = useQuery(shopQuery);
  const navigate = useNavigate();
  if (trials.isError && !trials.data) return <Notice kind="refusal">{refusalText(trials.error)}</Notice>;
  if (!trials.data || !shop.data) return null;
  const units = shop.data;
  const { lines, total } = trials.data;
  return (
    <main className={styles.trials}>
      <header className={styles.head}>
        <h1>Trials</h1>
        <input
          type="search"
          placeholder="Find by metal, table, set or name"
          aria-label="Find a trial"
          maxLength={200}
          value={sought}
          onChange={(e) => setSought(e.target.value)}
        />
        <a
          className={styles.listed}
          href={at(`/api/trials.csv?sought=${encodeURIComponent(sought)}`)}
          download
        >
          CSV
        </a>
        <a
          className={styles.listed}
          href={at(`/api/trials.json?sought=${encodeURIComponent(sought)}`)}
          download
        >
          JSON
        </a>
        <OpenFromFile />
        <Button variant="contained" onClick={() => void navigate('/trials/new')}>
          Open a trial
        </Button>
      </header>
      {lines.length === 0 && (
        <p className={styles.none}>
          {sought
            ? 'No trial matches that.'
            : 'No trial yet. Open one: metal and thickness are enough to begin.'}
        </p>
      )}
      <ol className={styles.list}>
        {lines.map((line) => (
          <TrialRow key={line.trial.id} line={line} units={units} />
        ))}
      </ol>
      {total > lines.length && (
        <Button variant="outlined" onClick={() => setMost(Math.min(most + SHOWN_AT_ONCE, 500))}>
          Show more ({total - lines.length} left)
        </Button>
      )}
    </main>
  );
}

export function standing(trial: Trial, cuts: number): { mark: string; text: string } {
  if (trial.recipe_id) return { mark: '■', text: `locked, revision ${trial.recipe_revision ?? ''}` };
  if (cuts === 0) return { mark: '□', text: 'not cut yet' };
  return { mark: '◧', text: `${cuts} ${cuts === 1 ? 'cut' : 'cuts'} so far` };
}

function TrialRow({ line: { trial, cuts, last }, units }: { line: TrialLine; units: ShopUnits }) {
  const state = standing(trial, cuts);
  return (
    <li>
      <Link to={`/trials/${trial.id}`} className={styles.trial}>
        <CutThumb cut={last} trial={trial} />
        <span className={styles.what}>
          <strong>
            {trial.plate} {trial.metal_label}
          </strong>
          <span>{trial.title || 'no name'}</span>
        </span>
        <span className={styles.where}>
          <span>{trial.torch_set.name}</span>
          <span>{trial.table}</span>
        </span>
        <span className={styles.settings}>
          <span>
            {showSpeed(last?.speed_mm_min ?? trial.start.speed_mm_min, units).text} {units.speed_unit} ·{' '}
            {showLength(last?.cut_height_mm ?? trial.start.cut_height_mm, units).text}{' '}
            {units.length_unit}
          </span>
          <span>{last ? `underside ${last.underside}` : 'starting numbers'}</span>
        </span>
        <span className={styles.state}>
          <strong>
            {state.mark} {state.text}
          </strong>
          {trial.on_bench && <span>on the Bench</span>}
        </span>
      </Link>
    </li>
  );
}

/** Opens a trial from a campaign file on the table this screen stands at. */
function OpenFromFile() {
  const { tableId } = useSettings();
  const tables = useQuery(tablesQuery);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const table = tableId ?? tables.data?.[0]?.id;
  return (
    <FileButton
      label="Open from a file"
      address={table === undefined ? null : at(`/api/campaigns?table_id=${table}`)}
      onTaken={async ({ id }) => {
        await queries.invalidateQueries();
        await navigate(`/trials/${id}`);
      }}
    />
  );
}
