import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Bench, Cut } from '../kit/client';
import { CutThumb } from '../kit/CutThumb';
import { showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import { SHOWN, type ShowWhich } from './ledger';
import styles from './ledger.module.css';

interface Props {
  bench: Bench;
  units: ShopUnits;
  show: ShowWhich;
  onShow: (which: ShowWhich) => void;
}

/** Every cut of the trial end-on, in the order in which they were made: tap two to hold them side by side. */
export function Ledger({ bench, units, show, onShow }: Props) {
  const [picked, setPicked] = useState<number[]>([]);
  const navigate = useNavigate();
  const pick = (id: number) =>
    setPicked(picked.includes(id) ? picked.filter((p) => p !== id) : [...picked.slice(-1), id]);
  const [one, other] = picked;
  const kinds = (Object.keys(SHOWN) as ShowWhich[]).filter(
    (k) => k === 'all' || k === show || bench.cuts.some((c) => SHOWN[k].holds(c)),
  );
  const { trial } = bench;
  return (
    <section className={styles.ledger} aria-labelledby="ledger">
      <header>
        <h2 id="ledger">Cut by cut</h2>
        <div role="group" aria-label="Show">
          {kinds.map((k) => (
            <button key={k} type="button" aria-pressed={show === k} onClick={() => onShow(k)}>
              {SHOWN[k].label}
            </button>
          ))}
        </div>
        <span className={styles.gap} />
        <a href={at(`/api/trials/${trial.id}/cuts.csv`)} download>
          CSV
        </a>
        <a href={at(`/api/trials/${trial.id}/cuts.json`)} download>
          JSON
        </a>
        <Button
          variant="contained"
          disabled={one === undefined}
          onClick={() =>
            void navigate(`/compare?one=${one ?? ''}${other === undefined ? '' : `&other=${other}`}`)
          }
        >
          {other !== undefined
            ? 'Side by side'
            : one === undefined
              ? 'Tap two to compare'
              : 'Against another trial'}
        </Button>
      </header>
      <ol>
        {bench.cuts.filter(SHOWN[show].holds).map((c) => (
          <li key={c.id} data-struck={c.struck_out}>
            <button type="button" aria-pressed={picked.includes(c.id)} onClick={() => pick(c.id)}>
              <span>
                <strong>{c.number}</strong> {c.kind === 'square' ? worst(c) : c.title}
              </span>
              <CutThumb cut={c} trial={trial} />
              <small className="number">
                {showSpeed(c.speed_mm_min, units).text} · {showLength(c.cut_height_mm, units).text}
              </small>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}

const worst = (c: Cut): string =>
  c.worst_kept_deg === null ? 'not read' : `worst ${showDegrees(c.worst_kept_deg)}`;
