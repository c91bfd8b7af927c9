import { Choices } from '../kit/Choices';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { showLength, type ShopUnits } from '../kit/units';
import type { Log } from './log';
import styles from './log.module.css';

interface Props {
  log: Log;
  units: ShopUnits;
  change: (to: Partial<Log>) => void;
}

/** What is not read of every cut: the arc, the height, kerf, lag, and words of one's own. */
export function MoreOfIt({ log, units, change }: Props) {
  return (
    <div className={styles.more}>
      <Choices
        label="Did the arc go out on the way?"
        value={log.arc_lost ? 'lost' : 'held'}
        choices={[
          { value: 'held', label: 'It held' },
          { value: 'lost', label: 'It went out' },
        ]}
        onChoose={(value) => change({ arc_lost: value === 'lost' })}
      />
      <Choices
        label="Height while cutting"
        value={log.height_control}
        choices={[
          { value: 'off', label: 'fixed, control off' },
          { value: 'by_hand', label: 'by hand' },
          { value: 'set_point', label: 'held to a set-point' },
          { value: 'sampled', label: 'sampled after the pierce' },
        ]}
        onChoose={(height_control) => change({ height_control })}
      />
      {log.height_control === 'set_point' && (
        <NumberField
          label="Set-point"
          after="V"
          value={log.set_point_v}
          onType={(set_point_v) => change({ set_point_v })}
          help="what was asked for; the volts that were seen go with the edges"
        />
      )}
      <QuantityField
        label="Kerf, mean of top and bottom"
        quantity="length"
        means="kerf"
        unit={units.length_unit}
        initial={log.kerf_mm === null ? '' : showLength(log.kerf_mm, units).text}
        onRead={(kerf_mm) => change({ kerf_mm })}
      />
      <NumberField
        label="Lag of the lines on the edge"
        after="°"
        value={log.lag_deg}
        onType={(lag_deg) => change({ lag_deg })}
        help="plus where the bottom trails the top"
      />
      <TextField
        label="In your own words"
        value={log.note}
        most={500}
        lines={2}
        placeholder="which delay was through, what a hole measured, what broke out"
        onType={(note) => change({ note })}
      />
    </div>
  );
}
