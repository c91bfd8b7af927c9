import type { Cut, Trial } from './client';
import { KerfSection } from './KerfSection';

/** A logged cut end-on, as small as lists need it; without a cut, its trial's plate with nothing read. */
export function CutThumb({ cut, trial }: { cut: Cut | null; trial: Trial }) {
  return (
    <KerfSection
      size="thumb"
      thicknessMm={trial.thickness_mm}
      kerfMm={cut?.kerf_mm ?? trial.start.kerf_mm}
      leftDeg={cut?.bevel_left_deg ?? null}
      rightDeg={cut?.bevel_right_deg ?? null}
      goodSide={trial.good_side}
      dross={cut?.dross ?? null}
      through={cut?.through ?? null}
    />
  );
}
