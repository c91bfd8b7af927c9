/** Says kept numbers as the screens do: a test in Python holds them against core's own words. */
import { readFileSync } from 'node:fs';
import {
  showAlong,
  showLength,
  showSpeed,
  withUnit,
  type Along,
  type Shown,
  type ShopUnits,
} from '../src/kit/units';

const asked = JSON.parse(readFileSync(0, 'utf8')) as {
  quantity: Along | 'length' | 'speed';
  kept: number;
  units: ShopUnits;
}[];
const say = ({ quantity, kept, units }: (typeof asked)[number]): Shown =>
  quantity === 'length'
    ? showLength(kept, units)
    : quantity === 'speed'
      ? showSpeed(kept, units)
      : showAlong(quantity, kept, units);
process.stdout.write(JSON.stringify(asked.map((a) => withUnit(say(a)))));
