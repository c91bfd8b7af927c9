import { Figure } from './Figure';
import { showLength, showSpeed, type ShopUnits } from './units';

interface Setting {
  speed_mm_min: number;
  arc_voltage_v?: number | null;
  cut_height_mm: number;
  pierce_height_mm: number;
  pierce_delay_s: number;
  kerf_mm: number;
}

interface Props {
  setting: Setting;
  /** What is said where there are no volts. */
  unread: string;
  units: ShopUnits;
}

/** The six numbers that are dialled or told a program, as pairs of a definition list. */
export function SettingFigures({ setting, unread, units }: Props) {
  const length = (mm: number) => showLength(mm, units).text;
  const { arc_voltage_v: volts } = setting;
  return (
    <>
      <Figure name="Speed" text={showSpeed(setting.speed_mm_min, units).text} unit={units.speed_unit} />
      <Figure name="Arc voltage" text={volts?.toFixed(1) ?? unread} unit={volts ? 'V' : ''} />
      <Figure name="Cut height" text={length(setting.cut_height_mm)} unit={units.length_unit} />
      <Figure name="Pierce height" text={length(setting.pierce_height_mm)} unit={units.length_unit} />
      <Figure name="Pierce delay" text={setting.pierce_delay_s.toFixed(2)} unit="s" />
      <Figure name="Kerf" text={length(setting.kerf_mm)} unit={units.length_unit} />
    </>
  );
}
