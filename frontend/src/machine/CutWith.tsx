import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useDraft } from '../kit/draft';
import styles from '../kit/kit.module.css';
import { offersQuery, type Offer } from '../programs/queries';

export interface Of {
  recipe_id: number | null;
  trial_id: number | null;
}

const keyOf = (o: Pick<Offer, 'recipe_id' | 'trial_id'>) =>
  (o.recipe_id ?? null) === null ? `t${o.trial_id}` : `r${o.recipe_id}`;

/** The setting that pieces of this room are cut with: what suits the fitted parts, until another is chosen. */
export function useCutWith(tableId: number): {
  of: Of | null;
  choice: React.ReactNode;
} {
  const offers = useQuery({ ...offersQuery(tableId), enabled: tableId > 0 });
  const [chosen, choose] = useDraft<string | null>(`cut with ${tableId}`, null);
  const all = (offers.data ?? []) as readonly Offer[];
  const offer = all.find((o) => keyOf(o) === chosen) ?? all[0] ?? null;
  const of = offer && { recipe_id: offer.recipe_id ?? null, trial_id: offer.trial_id ?? null };
  const choice = (
    <div className={styles.field}>
      <label id="cut-with">Cut with</label>
      <TextField
        select
        fullWidth
        slotProps={{ select: { labelId: 'cut-with' } }}
        value={offer ? keyOf(offer) : ''}
        onChange={(e) => choose(e.target.value)}
      >
        {all.map((o) => (
          <MenuItem key={keyOf(o)} value={keyOf(o)}>
            {o.title}
            {o.fitted ? '' : ` (${o.torch_set}, not fitted)`}
          </MenuItem>
        ))}
      </TextField>
      <p className={styles.help}>
        {offers.data?.length === 0 ? 'No recipe and no trial here yet: open a trial first.' : ''}
      </p>
    </div>
  );
  return { of, choice };
}

/** As the query of an address. */
export function queryOf(of: Of, more: Readonly<Record<string, number | null>> = {}): string {
  const all = Object.entries({ ...of, ...more }).flatMap(([name, value]) =>
    value === null ? [] : [[name, String(value)]],
  );
  return new URLSearchParams(all).toString();
}
