import { useState } from 'react';
import { QuantityField } from '../kit/QuantityField';
import type { ShopUnits } from '../kit/units';
import type { Check } from './checks';
import styles from './motion.module.css';
import { ReadWith, toolOf, useTools } from './ReadWith';
import { SaidSo } from './SaidSo';

/** Lost steps: where the torch stands after a run, off the mark that it left from. */
export function BackOnMark({ tableId, units }: { tableId: number; units: ShopUnits }) {
  const tools = useTools().data ?? [];
  const [tool, chooseTool] = useState<string | null>(null);
  const [x, setX] = useState<number | null>(null);
  const [y, setY] = useState<number | null>(null);
  const u_mm = toolOf(tools, tool)?.u_mm ?? null;
  const check: Check | null =
    u_mm === null || (x === null && y === null) ? null : { kind: 'lost_steps', x_mm: x, y_mm: y, u_mm };
  return (
    <div className={styles.columns}>
      <div className={styles.asked}>
        <p>
          Scratch a cross under the torch, set zero there, run a long program dry, and send it back to
          zero. How far off the cross does it stand? X to the right, Y away from you; 0 where it stands
          on it.
        </p>
        <div className={styles.fields}>
          <QuantityField label="Off along X" quantity="length" unit={units.length_unit} onRead={setX} />
          <QuantityField label="Off along Y" quantity="length" unit={units.length_unit} onRead={setY} />
        </div>
        <ReadWith tools={tools} name={tool} units={units} onChoose={chooseTool} />
      </div>
      <div className={styles.says}>
        <SaidSo
          tableId={tableId}
          check={check}
          before="How far off it stands: what that says stands here."
        />
      </div>
    </div>
  );
}
