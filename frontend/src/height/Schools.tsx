import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showLength } from '../kit/units';
import styles from './height.module.css';
import { heightQuery, type Held, type TrialHeight } from './queries';

/** Three ways to a set-point side by side: what each gives now, what becomes of it, what it needs. */
export function Schools({ height }: { height: TrialHeight }) {
  const queries = useQueryClient();
  const say = useSay();
  const choose = useMutation({
    mutationFn: (school: Held['school']) =>
      answered(
        api.PUT('/api/trials/{trial_id}/control', {
          params: { path: { trial_id: height.trial_id } },
          body: { school, hold_holes: true },
        }),
      ),
    onSuccess: (found) => {
      queries.setQueryData(heightQuery(height.trial_id).queryKey, found);
      say({ text: 'Chosen: what to tell the control is below.' });
    },
  });
  return (
    <section className={styles.schools} aria-label="Three schools">
      {height.schools.map((school) => (
        <School
          key={school.school}
          school={school}
          height={height}
          pending={choose.isPending}
          onChoose={() => choose.mutate(school.school)}
        />
      ))}
      {choose.isError && <Notice kind="refusal">{refusalText(choose.error)}</Notice>}
    </section>
  );
}

function School(p: { school: Held; height: TrialHeight; pending: boolean; onChoose: () => void }) {
  const { school, height } = p;
  const units = useUnits();
  const chosen = height.control.chosen && height.control.school === school.school;
  return (
    <article data-chosen={chosen} data-refused={school.refused !== ''}>
      <h2>{school.word}</h2>
      <p className={styles.schoolVolts}>
        {school.set_point_v !== null ? (
          <>
            <b className="number">{school.set_point_v.toFixed(1)}</b> V
          </>
        ) : school.refused ? (
          '–'
        ) : (
          <b>each start its own</b>
        )}
      </p>
      {chosen ? (
        <p className={styles.chosen}>✓ Chosen for this trial</p>
      ) : (
        <Button
          variant="outlined"
          disabled={school.refused !== '' || p.pending || height.locked}
          onClick={p.onChoose}
        >
          Go by this
        </Button>
      )}
      {school.height_mm !== null && (
        <Gap mm={school.height_mm} sd={school.height_sd_mm ?? 0} height={height} />
      )}
      {school.refused ? <p>{school.refused}</p> : <p>{school.will}</p>}
      <dl>
        {school.closer_mm !== null && (
          <div>
            <dt>after {height.ahead} more starts</dt>
            <dd>
              {school.closer_mm === 0
                ? 'stays'
                : `${showLength(school.closer_mm, units).text} ${units.length_unit} closer`}
            </dd>
          </div>
        )}
        {school.touches_in && (
          <div>
            <dt>touches, left alone, in</dt>
            <dd>
              {school.touches_in[0]} to {school.touches_in[1]} starts
            </dd>
          </div>
        )}
        {school.trim_at_starts !== null && (
          <div>
            <dt>next trim, +1 V, at</dt>
            <dd>{school.trim_at_starts} starts</dd>
          </div>
        )}
        <div>
          <dt>needs</dt>
          <dd>{school.needs}</dd>
        </div>
      </dl>
    </article>
  );
}

/** The gap that it holds, drawn against the proven height and where it would touch. */
function Gap({ mm, sd, height }: { mm: number; sd: number; height: TrialHeight }) {
  const most = Math.max(3, mm + 2 * sd, height.cut_height_mm * 1.6);
  const y = (h: number) => 74 - (Math.max(0, h) / most) * 66;
  return (
    <svg viewBox="0 0 240 84" className={styles.gap} aria-hidden="true">
      <rect x="0" y="74" width="240" height="10" fill="var(--plate)" />
      <line
        x1="0"
        x2="240"
        y1={y(height.touch_mm)}
        y2={y(height.touch_mm)}
        stroke="var(--limit)"
        strokeDasharray="5 4"
      />
      <line
        x1="0"
        x2="240"
        y1={y(height.cut_height_mm)}
        y2={y(height.cut_height_mm)}
        stroke="var(--expect)"
        strokeWidth="2"
      />
      <rect
        x="96"
        width="48"
        y={y(mm + 2 * sd)}
        height={Math.max(1, y(mm - 2 * sd) - y(mm + 2 * sd))}
        fill="var(--line)"
      />
      <polygon
        points={`104,${y(mm) - 9} 136,${y(mm) - 9} 127,${y(mm)} 113,${y(mm)}`}
        fill="var(--ink)"
      />
    </svg>
  );
}
