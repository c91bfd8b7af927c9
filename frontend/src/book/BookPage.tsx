import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { RecipeLine } from '../kit/client';
import { KerfSection } from '../kit/KerfSection';
import { Notice, refusalText } from '../kit/Notice';
import { recipesQuery, rowsQuery, shopQuery } from '../kit/queries';
import { showLength, showSpeed, showThickness, type ShopUnits } from '../kit/units';
import styles from './book.module.css';
import { pagesQuery, sheetAddress } from './queries';
import { RowDialog } from './RowDialog';
import { TakeIn } from './TakeIn';

const RowsTable = lazy(async () => ({ default: (await import('./RowsTable')).RowsTable }));

/** Proven recipes first, then the starting rows they grew from. */
export function BookPage() {
  const recipes = useQuery(recipesQuery);
  const rows = useQuery(rowsQuery);
  const shop = useQuery(shopQuery);
  const [typing, setTyping] = useState(false);
  const navigate = useNavigate();
  if (recipes.isError && !recipes.data)
    return <Notice kind="refusal">{refusalText(recipes.error)}</Notice>;
  if (!recipes.data || !rows.data || !shop.data) return null;
  const units = shop.data;
  return (
    <main className={styles.book}>
      <section aria-labelledby="recipes">
        <header className={styles.head}>
          <h1 id="recipes">Recipes, proven here</h1>
          <TakeIn />
        </header>
        {recipes.data.length === 0 && (
          <p className="soft">
            None yet. A trial that proves square is locked in here, with its cuts as evidence.
          </p>
        )}
        <ol className={styles.recipes}>
          {recipes.data.map((r) => (
            <RecipeCard key={r.id} recipe={r} units={units} />
          ))}
        </ol>
      </section>
      <section aria-labelledby="rows">
        <header className={styles.head}>
          <h2 id="rows">Starting rows</h2>
          <span className={styles.acts}>
            <Button variant="outlined" onClick={() => setTyping(true)}>
              Type a row
            </Button>
            <Button variant="outlined" onClick={() => void navigate('/book/import')}>
              Paste or import rows
            </Button>
            <Button variant="outlined" onClick={() => void navigate('/choose')}>
              Which set?
            </Button>
          </span>
        </header>
        {rows.data.some((r) => r.example) && (
          <Notice kind="caution" title="Example numbers: use your torch’s manual">
            These rows are invented, to show how the Book works. They are no maker’s data.
          </Notice>
        )}
        <BookSheets units={units} />
        <p className="soft">
          Lengths in {units.length_unit}, speeds in {units.speed_unit}, delays in s.{' '}
          <a className={styles.rowsFile} href={at('/api/recipes.csv')} download>
            Save the recipes as CSV
          </a>{' '}
          <a className={styles.rowsFile} href={at('/api/recipes.json')} download>
            as JSON
          </a>
          {'; '}
          <a className={styles.rowsFile} href={at('/api/book/rows.csv?in_shop_units=true')} download>
            Save the rows as CSV
          </a>{' '}
          <a className={styles.rowsFile} href={at('/api/book/rows.json')} download>
            as JSON
          </a>
        </p>
        {rows.data.length > 0 && (
          <Suspense fallback={<div className={styles.rows} />}>
            <RowsTable rows={rows.data} units={units} />
          </Suspense>
        )}
      </section>
      {typing && <RowDialog of={null} row={null} units={units} onClose={() => setTyping(false)} />}
    </main>
  );
}

/** The pages of the Book: each metal with each set and gas, and how many rows look wrong. */
function BookSheets({ units }: { units: ShopUnits }) {
  const pages = useQuery(pagesQuery);
  if (pages.data?.length === 0)
    return (
      <p className="soft">
        The Book is empty. Type the rows of your torch’s manual for the metal you cut most, two
        thicknesses at least, or paste them from a spreadsheet.
      </p>
    );
  return (
    <ul className={styles.pages}>
      {pages.data?.map((p) => (
        <li key={`${p.metal} ${p.torch_set_id} ${p.gas}`}>
          <Link to={sheetAddress(p)}>
            <strong>{p.metal_label}</strong>
            {p.breaks > 0 ? <em>▲ {p.breaks} out of line</em> : <span>{p.rows} rows</span>}
            <span>
              {p.torch_set}, {p.gas}
            </span>
            <span>
              {showThickness(p.thinnest_mm, units).text} to {showThickness(p.thickest_mm, units).text}{' '}
              {units.length_unit}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

function RecipeCard({ recipe: r, units }: { recipe: RecipeLine; units: ShopUnits }) {
  return (
    <li>
      <Link to={`/book/recipes/${r.id}`} className={styles.card} data-old={!r.in_force}>
        <KerfSection
          size="thumb"
          thicknessMm={r.thickness_mm}
          kerfMm={r.kerf_mm}
          leftDeg={r.bevel_left_deg}
          rightDeg={r.bevel_right_deg}
          goodSide={r.good_side}
          dross={r.dross}
          through="full"
        />
        <span className={styles.what}>
          <strong>
            {r.plate} {r.metal_label}
          </strong>
          {r.title && <span className={styles.title}>{r.title}</span>}
          <span>
            {r.torch_set}, {r.table_name}
          </span>
        </span>
        <span className={styles.dial}>
          <span>
            <b className="number">{showSpeed(r.speed_mm_min, units).text}</b> {units.speed_unit}
          </span>
          <span>
            <b className="number">{r.arc_voltage_v?.toFixed(1) ?? 'unknown'}</b> V
          </span>
          <span>
            <b className="number">{showLength(r.cut_height_mm, units).text}</b> {units.length_unit}
          </span>
        </span>
        <span className={styles.proof}>
          <strong>
            {r.in_force ? `■ Revision ${r.revision}` : `□ Revision ${r.revision}, superseded`}
          </strong>
          <span>
            {r.cuts} cuts, {r.passed} passed
          </span>
        </span>
      </Link>
    </li>
  );
}
