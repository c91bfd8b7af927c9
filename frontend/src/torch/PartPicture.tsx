import type { PartName } from './queries';

/** What a thing on a part can look like, drawn to match with what is in the hand. */
export function PartPicture({ part, what, value }: { part: PartName; what: string; value: string }) {
  const drawn = PICTURES[`${part}.${what}`]?.(value);
  return (
    <svg viewBox="0 0 84 60" width="84" height="60" aria-hidden="true">
      {drawn}
    </svg>
  );
}

const METAL = { fill: 'var(--plate)' };
const MARK = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 2 };

/** A round face seen from its end. */
const Face = ({ children }: { children?: React.ReactNode }) => (
  <>
    <circle cx="42" cy="30" r="27" {...METAL} />
    {children}
  </>
);

/** Half a tube in section, upright. */
const Flank = ({ children }: { children?: React.ReactNode }) => (
  <>
    <path d="M28 3H56V40Q56 50 50 57H34Q28 50 28 40Z" {...METAL} />
    {children}
  </>
);

const PICTURES: Record<string, (value: string) => React.ReactNode> = {
  'electrode.pit': (value) => (
    <Face>
      <circle cx="42" cy="30" r="11" fill="var(--arc)" />
      {value === 'even' && <circle cx="42" cy="30" r="6" fill="var(--chart-ink)" />}
      {value === 'off_centre' && <ellipse cx="47" cy="27" rx="7" ry="5" fill="var(--chart-ink)" />}
      {value === 'past_insert' && (
        <path d="M32 30q-3-14 10-15 17 1 15 15 1 14-14 14-12 0-11-14Z" fill="var(--chart-ink)" />
      )}
    </Face>
  ),
  'electrode.body': (value) => (
    <Flank>
      {value === 'blued' && <path d="M28 30H56V40Q56 44 54 48H30Q28 44 28 40Z" fill="var(--blue)" />}
      {value === 'arced' && <path d="M28 22l9 3-4 5 8 4-6 5 7 3" {...MARK} strokeWidth={3} />}
    </Flank>
  ),
  'swirl_ring.holes': (value) => (
    <Face>
      <circle cx="42" cy="30" r="15" fill="var(--ground)" />
      {[0, 60, 120, 180, 240, 300].map((deg, i) => (
        <circle
          key={deg}
          cx={42 + 21 * Math.cos((deg * Math.PI) / 180)}
          cy={30 + 21 * Math.sin((deg * Math.PI) / 180)}
          r="3.4"
          fill={value === 'blocked' && i === 5 ? 'var(--dross)' : 'var(--ground)'}
        />
      ))}
      {value === 'blocked' && <path d="M54 4l7 9M61 4l-7 9" {...MARK} />}
    </Face>
  ),
  'swirl_ring.ring': (value) => (
    <Face>
      <circle cx="42" cy="30" r="15" fill="var(--ground)" />
      {value === 'cracked' && <path d="M60 42l6 3-1 5 7 4" {...MARK} strokeWidth={2.6} />}
    </Face>
  ),
  'nozzle.bore': (value) => (
    <Face>
      {value === 'chamfered' && <circle cx="42" cy="30" r="14" fill="var(--plate-line)" />}
      {value === 'oval' ? (
        <ellipse cx="44" cy="30" rx="12" ry="7" fill="var(--chart-ink)" transform="rotate(-25 42 30)" />
      ) : (
        <circle cx="42" cy="30" r="7" fill="var(--chart-ink)" />
      )}
    </Face>
  ),
  'nozzle.face': (value) => (
    <Face>
      {value === 'nicked' && <path d="M47 25l5-5 3 5-6 3Z" fill="var(--ground)" />}
      <circle cx="42" cy="30" r="7" fill="var(--chart-ink)" />
      {value === 'arced' && (
        <path d="M50 36q8 0 10 8-8 4-13-3Z" fill="var(--dross)" stroke="var(--ink)" />
      )}
    </Face>
  ),
  'retaining_cap.thread': (value) => (
    <Flank>
      {[8, 16, 24, 32].map((y) => (
        <path
          key={y}
          d={value === 'worn' && y > 10 ? `M28 ${y + 3}h28` : `M28 ${y}l28 6`}
          stroke={value === 'worn' ? 'var(--plate-line)' : 'var(--ink)'}
          strokeWidth="2"
        />
      ))}
      {value === 'gritty' &&
        [
          [33, 14],
          [45, 22],
          [38, 30],
          [51, 17],
          [48, 34],
        ].map(([x, y]) => <circle key={`${x},${y}`} cx={x} cy={y} r="3" fill="var(--dross)" />)}
    </Flank>
  ),
  'shield.bore': (value) => (
    <Face>
      {value === 'oval' ? (
        <path d="M30 31q-1-10 12-11 16-1 15 10 0 10-14 11-12 1-13-10Z" fill="var(--ground)" />
      ) : (
        <circle cx="42" cy="30" r="11" fill="var(--ground)" />
      )}
    </Face>
  ),
  'shield.face': (value) => (
    <Face>
      <circle cx="42" cy="30" r="11" fill="var(--ground)" />
      {value === 'spatter' &&
        [
          [26, 22],
          [58, 20],
          [30, 44],
          [55, 42],
          [24, 33],
          [46, 50],
        ].map(([x, y]) => <circle key={`${x},${y}`} cx={x} cy={y} r="4" fill="var(--dross)" />)}
      {value === 'burnt' && <path d="M54 36l14 2-4 12-12-3Z" fill="var(--ground)" stroke="var(--ink)" />}
    </Face>
  ),
  'touch_off_clip.grip': (value) => (
    <>
      <path
        d={value === 'firm' ? 'M20 42Q18 14 42 14 66 14 64 42' : 'M14 46Q14 14 42 14 70 14 72 46'}
        fill="none"
        stroke="var(--plate)"
        strokeWidth="6"
        strokeLinecap="round"
      />
      {value === 'dirty' &&
        [24, 40, 58].map((x) => (
          <circle key={x} cx={x} cy={x === 40 ? 15 : 24} r="4" fill="var(--dross)" />
        ))}
      {value === 'frayed' ? (
        <path d="M68 46l4 6M66 48l0 8M63 47l-4 7" {...MARK} stroke="var(--bronze)" />
      ) : (
        <path d="M64 42q6 8 2 15" fill="none" stroke="var(--bronze)" strokeWidth="3" />
      )}
    </>
  ),
};
