import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { answered, api, type Schema } from '../kit/client';
import { KerfSection } from '../kit/KerfSection';
import { Notice, refusalText } from '../kit/Notice';
import { recipesQuery, trialsQuery } from '../kit/queries';
import { pictureOf } from '../log/photos';
import styles from './compare.module.css';

type Side = Schema['ComparedCut'];
type Line = Schema['Difference'];

/** Two cuts side by side, of one trial or of two: what differs comes first, what matters is marked. */
export function ComparePage() {
  const [params, setParams] = useSearchParams();
  const [one, other, recipe] = ['one', 'other', 'recipe'].map((k) => Number(params.get(k)) || null);
  const ready = one !== null && (other !== null || recipe !== null);
  const found = useQuery({
    queryKey: ['compare', one, other, recipe],
    queryFn: () =>
      answered(
        api.GET('/api/compare', {
          params: { query: { one: one ?? 0, other: other ?? null, recipe: recipe ?? null } },
        }),
      ),
    enabled: ready,
  });
  return (
    <main className={styles.compare}>
      <header>
        <h1>Side by side</h1>
        <Against
          value={recipe ? `recipe ${recipe}` : other ? `cut ${other}` : ''}
          onChoose={(what) => {
            const [kind = '', id = ''] = what.split(' ');
            setParams({ one: String(one ?? ''), [kind === 'recipe' ? 'recipe' : 'other']: id });
          }}
        />
      </header>
      {!ready && (
        <p className="soft">Choose what to hold it against: a recipe, or another trial’s last cut.</p>
      )}
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {found.data && (
        <>
          <div className={styles.two}>
            <Seen side={found.data.one} />
            <Seen side={found.data.other} />
          </div>
          <Lines lines={found.data.differences} />
        </>
      )}
    </main>
  );
}

/** What else there is to hold a cut against. */
function Against({ value, onChoose }: { value: string; onChoose: (what: string) => void }) {
  const trials = useQuery(trialsQuery('', 60));
  const recipes = useQuery(recipesQuery);
  return (
    <label className={styles.against}>
      Against
      <select value={value} onChange={(e) => onChoose(e.target.value)}>
        <option value="" disabled>
          choose
        </option>
        {value.startsWith('cut') && <option value={value}>the cut chosen</option>}
        <optgroup label="Recipes">
          {(recipes.data ?? [])
            .filter((r) => r.trial_id !== null)
            .map((r) => (
              <option key={r.id} value={`recipe ${r.id}`}>
                {r.title}, revision {r.revision},{' '}
                {new Date(r.locked_at).toLocaleDateString([], { month: 'long', year: 'numeric' })}
              </option>
            ))}
        </optgroup>
        <optgroup label="Last cut of a trial">
          {(trials.data?.lines ?? [])
            .filter((t) => t.last && `cut ${t.last.id}` !== value)
            .map((t) => (
              <option key={t.trial.id} value={`cut ${t.last?.id ?? ''}`}>
                {t.trial.plate} {t.trial.metal_label}
                {t.trial.title && `, ${t.trial.title}`}
              </option>
            ))}
        </optgroup>
      </select>
    </label>
  );
}

function Seen({ side }: { side: Side }) {
  const { cut } = side;
  return (
    <section>
      <h2>
        <Link to={`/trials/${side.trial_id}#cut-${cut.number}`}>
          {cut.kind === 'square' ? 'Cut' : cut.title} {cut.number}
        </Link>
      </h2>
      <p className="soft">
        {side.title}, {side.table},{' '}
        {new Date(cut.logged_at).toLocaleDateString([], { dateStyle: 'medium' })}
        {side.recipe && `; locked as ${side.recipe}`}
      </p>
      <KerfSection
        thicknessMm={side.thickness_mm}
        kerfMm={side.kerf_mm}
        leftDeg={cut.bevel_left_deg ?? null}
        rightDeg={cut.bevel_right_deg ?? null}
        goodSide={side.good_side}
        dross={cut.dross ?? null}
        through={cut.through ?? null}
      />
      {cut.photos.length > 0 && (
        <div className={styles.photos}>
          {cut.photos.slice(0, 3).map((p) => (
            <img key={p.id} src={pictureOf(p, 'thumbnail')} alt={p.caption || 'Photo of this cut'} />
          ))}
        </div>
      )}
    </section>
  );
}

/** The lines that matter first, then what differs, then what is alike. */
function Lines({ lines }: { lines: readonly Line[] }) {
  const rank = (l: Line) => (l.matters ? 0 : l.one !== l.other ? 1 : 2);
  const sorted = [...lines].sort((a, b) => rank(a) - rank(b));
  const matter = lines.filter((l) => l.matters).length;
  return (
    <table className={styles.lines}>
      <caption>
        {matter === 0
          ? 'Nothing differs by more than reading scatters.'
          : `${matter} ${matter === 1 ? 'thing differs' : 'things differ'} by more than reading scatters.`}
      </caption>
      <tbody>
        {sorted.map((l) => (
          <tr key={l.what} data-rank={rank(l)}>
            <th scope="row">
              {l.matters && <span aria-label="matters">◆ </span>}
              {l.what}
            </th>
            <td>{l.one}</td>
            <td>{l.other}</td>
            <td>{l.why}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
