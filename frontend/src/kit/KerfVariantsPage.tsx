import { KerfSection, type KerfSectionProps } from './KerfSection';
import styles from './kit.module.css';

const BASE: KerfSectionProps = {
  thicknessMm: 8,
  kerfMm: 1.8,
  leftDeg: 4.3,
  rightDeg: 1.2,
  goodSide: 'right',
  dross: [],
  toleranceDeg: 2,
  standoff: { mm: 1.5, text: '1.50 mm' },
  through: 'full',
};

const VARIANTS: Record<string, Partial<KerfSectionProps>> = {
  'inside, clean': {},
  'outside, slow dross': { rightDeg: 3.4, dross: [{ kind: 'low_speed', grade: 2 }] },
  'undercut, fast dross': { rightDeg: -2.6, leftDeg: 1.1, dross: [{ kind: 'high_speed', grade: 4 }] },
  'top spatter': { dross: [{ kind: 'top_spatter', grade: 1 }] },
  'scrap side not read': { leftDeg: null },
  'nothing read, not looked at': { leftDeg: null, rightDeg: null, dross: null },
  'both sides judged, expected shown': { bothSides: true, expected: { leftDeg: 2.1, rightDeg: 0.4 } },
  'good side left': { goodSide: 'left', leftDeg: 0.8, rightDeg: 3.9 },
  'not through': { through: 'partial', dross: [{ kind: 'high_speed', grade: 3 }] },
  'thin sheet': { thicknessMm: 1.5, kerfMm: 1.2, rightDeg: 1.6 },
  'heavy plate': { thicknessMm: 25, kerfMm: 3, dross: [{ kind: 'low_speed', grade: 3 }] },
};

/** Every state of the kerf section on one page, for eyes and for tests. */
export function KerfVariantsPage() {
  return (
    <main className={styles.variants}>
      <h1>Kerf section</h1>
      {Object.entries(VARIANTS).map(([name, change]) => (
        <figure key={name}>
          <KerfSection {...BASE} {...change} />
          <KerfSection {...BASE} {...change} size="thumb" />
          <figcaption>{name}</figcaption>
        </figure>
      ))}
    </main>
  );
}
