import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Choices } from '../kit/Choices';
import { answered, api, type Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits } from '../kit/units';
import { LookedAt } from './LookedAt';
import styles from './parts.module.css';
import { PitChart } from './PitChart';
import {
  fitting,
  startsLeft,
  useFit,
  useTakeBack,
  VERDICT_SIGNS,
  type Kept,
  type Part,
  type Parts,
} from './queries';

interface Props {
  table: Table;
  parts: Parts;
  part: Part;
  units: ShopUnits;
  onLook: () => void;
}

/** One part that is in the torch: what it has done, how it is, and what can be done with it. */
export function PartDetail({ table, parts, part, units, onLook }: Props) {
  const fit = useFit(table.id);
  const takeBack = useTakeBack();
  const say = useSay();
  const [changing, setChanging] = useState(false);
  const swap = (off: Kept) =>
    fit.mutate(fitting({ kind: 'parts', part: part.part, off, instead_of: parts.fitting_id }), {
      onSuccess: (fitted) =>
        say({
          text: `New ${part.word} in. The other is ${OFF_WORDS[off]}.`,
          undo: () => takeBack(fitted.id),
        }),
    });
  const electrode = part.part === 'electrode';
  return (
    <section className={styles.detail} aria-label={`The ${part.word}`}>
      <h2>
        {part.word[0]?.toUpperCase()}
        {part.word.slice(1)} {part.number}
      </h2>
      <p className={styles.verdict} data-verdict={part.verdict}>
        <b>
          {VERDICT_SIGNS[part.verdict]} {part.verdict_word}
        </b>
        {part.says}
      </p>
      {electrode && parts.forecast.shorter && (
        <Notice kind="caution" title="Shorter than the shop’s own lives">
          {parts.forecast.shorter}
        </Notice>
      )}
      <dl className={styles.done}>
        <div>
          <dt>starts</dt>
          <dd className="number">{part.counts.starts}</dd>
        </div>
        <div>
          <dt>arc on</dt>
          <dd className="number">{minutes(part.counts.arc_on_s)}</dd>
        </div>
        <div>
          <dt>ended off the plate</dt>
          <dd className="number">{part.counts.off_plate}</dd>
        </div>
        <div>
          <dt>arc lost early</dt>
          <dd className="number">{part.counts.early_losses}</dd>
        </div>
        <div>
          <dt>collisions</dt>
          <dd className="number">{part.counts.collisions}</dd>
        </div>
        {!electrode && (
          <div>
            <dt>starts left</dt>
            <dd className="number">{startsLeft(part.left)}</dd>
          </div>
        )}
      </dl>
      {electrode && <PitChart forecast={parts.forecast} units={units} />}
      {electrode && <Limit part={part} parts={parts} units={units} />}
      <Notice kind="caution" title="Before hands go near the torch">
        {parts.before_hands}
      </Notice>
      <div className={styles.acts}>
        <Button variant="contained" onClick={onLook}>
          Look at it
        </Button>
        <Button variant="outlined" aria-expanded={changing} onClick={() => setChanging(!changing)}>
          Change it
        </Button>
        {changing && (
          <Choices<Kept>
            label={`A new ${part.word} goes in. This one is:`}
            value={null}
            onChoose={(off) => swap(off)}
            choices={[
              { value: 'scrap', label: 'done with' },
              { value: 'good', label: 'good: put aside' },
              { value: 'rough_work', label: 'for rough work: to the tray' },
            ]}
          />
        )}
      </div>
      {part.on_shelf !== null && <p className="soft">{part.on_shelf} more on the shelf.</p>}
      {fit.isError && <Notice kind="refusal">{refusalText(fit.error)}</Notice>}
      {electrode && parts.trim && (
        <a
          className={styles.save}
          href={at(`/api/trials/${parts.trim.trial_id}/parts-ledger.json`)}
          download
        >
          Save its ledger to a file
        </a>
      )}
      <LookedAt part={part} units={units} />
    </section>
  );
}

const OFF_WORDS: Record<Kept, string> = {
  scrap: 'done with',
  good: 'put aside with its history',
  rough_work: 'in the tray for rough work',
};

const minutes = (s: number): string =>
  s < 6000 ? `${Math.round(s / 60)} min` : `${(s / 3600).toFixed(1)} h`;

/** How deep the manual lets a pit become. */
function Limit({ part, parts, units }: { part: Part; parts: Parts; units: ShopUnits }) {
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (limit_mm: number) =>
      answered(
        api.PUT('/api/parts/{part_id}/kept', {
          params: { path: { part_id: part.id } },
          body: { kept: part.kept, limit_mm },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  const { limit_mm, limit_known, learnt_from } = parts.forecast;
  return (
    <div className={styles.limit}>
      <QuantityField
        label="Deepest pit, by the manual"
        quantity="length"
        unit={units.length_unit}
        initial={limit_known ? showLength(limit_mm, units).text : ''}
        whenLeft
        onRead={(mm) => {
          if (mm !== null && mm !== part.limit_mm) keep.mutate(mm);
        }}
        help={
          limit_known
            ? ''
            : `Not said: ${showLength(limit_mm, units).text} ${units.length_unit} is the trade’s usual.`
        }
      />
      <p className="soft">
        {learnt_from > 0
          ? `Forecast from its own readings, and from ${learnt_from} earlier ones of the shop.`
          : 'No earlier electrode of this set was measured: the trade’s usual stands in until one is.'}
      </p>
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
    </div>
  );
}
