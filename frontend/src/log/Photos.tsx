import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import type { ShopUnits } from '../kit/units';
import { MeasurePhoto, type Measured } from './MeasurePhoto';
import {
  photosQuery,
  pictureOf,
  useAddPhoto,
  useStrikePhoto,
  type Photo,
  type PhotosOf,
} from './photos';
import styles from './photos.module.css';

interface Props {
  trialId: number;
  of: PhotosOf;
  units: ShopUnits;
  /** What an angle or a width measured on a photo is for; left out, it is only shown. */
  onMeasured?: (measured: Measured) => void;
  /** The edge that an angle would be taken for. */
  edge?: string | undefined;
}

/** The photos of a cut: taken with whatever is at hand, looked at large, and measured on. */
export function Photos({ trialId, of, units, onMeasured, edge }: Props) {
  const photos = useQuery(photosQuery(trialId, of));
  const add = useAddPhoto(trialId, of);
  const strike = useStrikePhoto(trialId);
  const say = useSay();
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState<Photo | null>(null);
  return (
    <section className={styles.photos} aria-label="Photos">
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png,image/webp,image/heic,image/heif"
        hidden
        aria-label="A photo of this piece"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) add.mutate(file);
          e.target.value = '';
        }}
      />
      <ul>
        {(photos.data ?? []).map((p) => (
          <li key={p.id}>
            <button type="button" onClick={() => setOpen(p)}>
              <img
                src={pictureOf(p, 'thumbnail')}
                alt={p.caption || 'Photo of this piece: open to measure'}
                loading="lazy"
              />
            </button>
            <button
              type="button"
              className={styles.away}
              onClick={() => {
                strike.mutate({ photo: p, out: true });
                say({
                  text: 'The photo is taken away.',
                  undo: () => strike.mutate({ photo: p, out: false }),
                });
              }}
            >
              Take it away
            </button>
          </li>
        ))}
        <li>
          <button
            type="button"
            className={styles.add}
            disabled={add.isPending}
            onClick={() => input.current?.click()}
          >
            {add.isPending ? 'Reading it ...' : 'Add a photo'}
          </button>
        </li>
      </ul>
      {add.isError && (
        <Notice kind="refusal" title="That photo was not taken">
          {refusalText(add.error)}
        </Notice>
      )}
      {open && (
        <MeasurePhoto
          photo={open}
          units={units}
          edge={edge}
          onClose={() => setOpen(null)}
          onMeasured={onMeasured}
        />
      )}
    </section>
  );
}
