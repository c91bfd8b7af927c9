import { useState, type ReactNode } from 'react';
import { QuantityField } from '../kit/QuantityField';
import type { ShopUnits } from '../kit/units';
import type { Check } from './checks';
import type { Of } from './CutWith';
import styles from './motion.module.css';
import { ProofPiece } from './ProofPiece';
import { ReadWith, toolOf, useTools } from './ReadWith';
import { SaidSo } from './SaidSo';

const ROUND = ['clockwise', 'counter_clockwise'] as const;
const ACROSS = [
  ['x_mm', 'Across X'],
  ['y_mm', 'Across Y'],
  ['a_mm', 'Diagonal A'],
  ['b_mm', 'Diagonal B'],
] as const;
type Sizes = Partial<Record<(typeof ACROSS)[number][0], number | null>>;

/** Slack in the drives from a circle cut each way round. */
export function SlackOfDrives({
  tableId,
  of,
  choice,
  units,
}: {
  tableId: number;
  of: Of | null;
  choice: ReactNode;
  units: ShopUnits;
}) {
  const tools = useTools().data ?? [];
  const [tool, chooseTool] = useState<string | null>(null);
  const [drawn, setDrawn] = useState<number | null>(null);
  const [sizes, setSizes] = useState<Record<(typeof ROUND)[number], Sizes>>({
    clockwise: {},
    counter_clockwise: {},
  });
  const u_mm = toolOf(tools, tool)?.u_mm ?? null;
  const circles = ROUND.flatMap((turns) => {
    const read = sizes[turns];
    const some = Object.values(read).some((v) => v !== null);
    return some && u_mm !== null ? [{ turns, ...read, u_mm }] : [];
  });
  const check: Check | null =
    drawn !== null && circles.length > 0 ? { kind: 'slack', drawn_mm: drawn, circles } : null;
  return (
    <div className={styles.columns}>
      <div className={styles.asked}>
        <p>
          Slack makes a circle narrow where it turns back, and oval one way round the one diagonal, the
          other way the other. Diagonal A runs from the zero’s corner.
        </p>
        <div className={styles.fields}>
          {choice}
          <QuantityField
            label="Drawn across"
            quantity="length"
            unit={units.length_unit}
            onRead={setDrawn}
          />
        </div>
        {of && <ProofPiece tableId={tableId} name="circles" of={of} more={{}} />}
        {ROUND.map((turns) => (
          <fieldset key={turns} className={styles.run}>
            <legend>{turns === 'clockwise' ? 'Cut clockwise' : 'Cut counter-clockwise'}</legend>
            {ACROSS.map(([name, label]) => (
              <QuantityField
                key={name}
                label={label}
                quantity="length"
                unit={units.length_unit}
                onRead={(v) => setSizes((s) => ({ ...s, [turns]: { ...s[turns], [name]: v } }))}
              />
            ))}
          </fieldset>
        ))}
        <ReadWith tools={tools} name={tool} units={units} onChoose={chooseTool} />
      </div>
      <div className={styles.says}>
        <SaidSo
          tableId={tableId}
          check={check}
          before="What is drawn and four diameters of each circle: what they say stands here."
        />
      </div>
    </div>
  );
}
