import { QuantityField } from '../kit/QuantityField';
import { showLength, type ShopUnits } from '../kit/units';
import { ASKED, type Typed } from './measured';
import { ReadWith, type Tool } from './ReadWith';
import styles from './square.module.css';

const NAMES = { rectangle: 'A rectangle', slot: 'A slot', hole: 'A hole' } as const;

/** The sizes of one piece as they are typed, and what they are read with. */
export function TypedPiece({
  typed,
  tools,
  units,
  onSize,
  onTool,
}: {
  typed: Typed;
  tools: readonly Tool[];
  units: ShopUnits;
  onSize: (key: number, name: string, value: number | null) => void;
  onTool: (key: number, name: string) => void;
}) {
  const text = (name: string) => {
    const mm = typed.sizes[name] ?? null;
    return mm === null ? '' : showLength(mm, units).text;
  };
  return (
    <fieldset className={styles.piece}>
      <legend>{NAMES[typed.kind]}</legend>
      <Sketch kind={typed.kind} />
      <div>
        <div className={styles.fields}>
          {ASKED[typed.kind].map(([name, label]) => (
            <QuantityField
              key={name}
              label={label}
              quantity="length"
              unit={units.length_unit}
              initial={text(name)}
              help={name === 'd1_mm' ? 'from the zero’s corner' : undefined}
              onRead={(v) => onSize(typed.key, name, v)}
            />
          ))}
        </div>
        <ReadWith
          tools={tools}
          name={typed.tool}
          units={units}
          onChoose={(name) => onTool(typed.key, name)}
        />
      </div>
    </fieldset>
  );
}

/** Where each size is read, on the piece as it lies on the table. */
function Sketch({ kind }: { kind: Typed['kind'] }) {
  return (
    <svg className={styles.sketch} viewBox="0 0 120 90" aria-hidden="true">
      {kind === 'rectangle' && (
        <>
          <rect x="14" y="12" width="92" height="60" />
          <path d="M14 72L106 12" data-line="a" />
          <path d="M14 12L106 72" data-line="b" />
          <text x="92" y="34">
            A
          </text>
          <text x="92" y="62">
            B
          </text>
          <circle cx="14" cy="72" r="3.5" />
          <text x="56" y="86">
            X
          </text>
          <text x="2" y="45">
            Y
          </text>
        </>
      )}
      {kind === 'slot' && (
        <>
          <path d="M8 12H112V76H8Z M44 28H76V60H44Z" fillRule="evenodd" data-solid />
          <path d="M44 44H76" data-line="a" />
          <path d="M60 28V60" data-line="b" />
        </>
      )}
      {kind === 'hole' && (
        <>
          <path d="M8 12H112V76H8Z" data-solid />
          <circle cx="60" cy="44" r="20" data-hole />
          <path d="M40 44H80" data-line="a" />
          <path d="M60 24V64" data-line="b" />
        </>
      )}
    </svg>
  );
}
