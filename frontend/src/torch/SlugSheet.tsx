import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { numberOf } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { useStillReading } from '../kit/reading';
import { useSay } from '../kit/undo';
import { showThickness, type ShopUnits } from '../kit/units';
import type { Torch } from './queries';
import styles from './alignment.module.css';

const COUNTS = [
  { value: 4, label: '4 places' },
  { value: 8, label: '8 places' },
] as const;
const FEWEST = 3;

interface Props {
  tableId: number;
  torch: Torch;
  units: ShopUnits;
  onClose: () => void;
}

/** A round slug, read all the way round: its edge where it faces, from the slit at its far right. */
export function SlugSheet({ tableId, torch, units, onClose }: Props) {
  const [count, setCount] = useState<number>(8);
  const [typed, setTyped] = useState<Record<number, string>>({});
  const [thickness, setThickness] = useState<number | null>(torch.thickness_mm);
  const [key] = useState(() => crypto.randomUUID());
  const still = useStillReading();
  const queries = useQueryClient();
  const say = useSay();
  // Clockwise from the far side, as one turns the slug in the hand; the slit lies between the first two.
  const faces = Array.from({ length: count }, (_, i) => (450 - (i * 360) / count) % 360);
  const read = faces.flatMap((faces_deg) => {
    const bevel_deg = numberOf((typed[faces_deg] ?? '').replace('\u2212', '-'));
    return bevel_deg === null ? [] : [{ faces_deg, bevel_deg }];
  });
  const wrong = faces.some((f) => {
    const text = (typed[f] ?? '').trim().replace('\u2212', '-');
    const value = numberOf(text);
    return text !== '' && (value === null || Math.abs(value) > 45);
  });
  const note = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/slugs', {
          params: { path: { table_id: tableId } },
          body: { key, thickness_mm: thickness ?? 0, places: read },
        }),
      ),
    onSuccess: () => {
      say({ text: `Slug noted, read at ${read.length} places.` });
      onClose();
      return queries.invalidateQueries({ queryKey: ['torch', tableId] });
    },
  });
  const missing =
    thickness === null
      ? 'Its thickness is missing.'
      : read.length < FEWEST
        ? `${FEWEST - read.length} more ${FEWEST - read.length === 1 ? 'place' : 'places'} at the least.`
        : wrong
          ? 'One of the readings is no angle.'
          : '';
  const shown = thickness === null ? '' : showThickness(thickness, units).text;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="slug" transitionDuration={0}>
      <div className={styles.slug}>
        <div className={styles.round}>
          <svg viewBox="-150 -150 300 300" aria-hidden="true">
            <circle r={92} fill="var(--plate)" />
            <path d="M0 -92V-48" stroke="var(--ground)" strokeWidth={7} transform="rotate(22.5)" />
            <text x={22} y={-26} textAnchor="middle" fontSize={15} fill="var(--plate-ink)">
              slit, far right
            </text>
            <text y={78} textAnchor="middle" fontSize={14} fill="var(--plate-ink)">
              your side
            </text>
          </svg>
          {faces.map((f, i) => {
            const a = (f * Math.PI) / 180;
            return (
              <label
                key={f}
                style={{ left: `${50 + 43 * Math.cos(a)}%`, top: `${50 - 43 * Math.sin(a)}%` }}
              >
                <span className="hidden-text">
                  Edge {i + 1} of {count}, facing {Math.round(f)} degrees
                </span>
                <input
                  value={typed[f] ?? ''}
                  inputMode="text"
                  autoComplete="off"
                  placeholder={`${i + 1}`}
                  autoFocus={i === 0}
                  onChange={(e) => setTyped({ ...typed, [f]: e.target.value })}
                />
              </label>
            );
          })}
        </div>
        <div className={styles.side}>
          <h1 id="slug">Read a slug</h1>
          <p>
            {torch.slug_says} Its slit lies at the far right, between fields 1 and 2. Read its edge where
            each field lies, clockwise: slit, start and nicks lie between them.
          </p>
          <p>
            <strong>+</strong> bottom sticks out, <strong>−</strong> undercut. An edge that was not read
            stays empty.
          </p>
          <Choices label="How many" value={count} choices={COUNTS} onChoose={setCount} />
          <QuantityField
            label="Thickness"
            quantity="length"
            unit={units.length_unit}
            initial={shown}
            onRead={setThickness}
          />
          {note.isError && <Notice kind="refusal">{refusalText(note.error)}</Notice>}
          <p className={styles.soft}>{missing}</p>
          <div className={styles.acts}>
            <Button variant="outlined" onClick={onClose}>
              Leave it
            </Button>
            <Button
              variant="contained"
              disabled={missing !== '' || wrong || still || note.isPending}
              onClick={() => note.mutate()}
            >
              Save the slug
            </Button>
          </div>
        </div>
      </div>
    </Dialog>
  );
}
