import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Under } from '../log/openLog';
import type { Log, Sheet } from '../log/log';
import { heightQuery } from '../height/queries';
import styles from './bench.module.css';

export type OnLog = (
  through: Log['through'],
  piece?: undefined,
  kind?: Sheet['kind'],
  under?: Under,
) => void;

interface Props {
  trialId: number;
  /** Of a recipe: the job of its next trial, in which it is proven under control. */
  again?: string | undefined;
  onLog: OnLog;
}

const KINDS = { long_strip: 'the long strip', square: 'the square' } as const;

/** Square at a fixed height is half of it: what comes next is height control, and the two pieces that prove it. */
export function AfterSquare({ trialId, again, onLog }: Props) {
  const height = useQuery(heightQuery(trialId));
  if (!height.data) return null;
  const { control } = height.data;
  const next = control.next_kind;
  const under: Under = {
    height_control: control.set_point_v === null ? 'sampled' : 'set_point',
    set_point_v: control.set_point_v,
  };
  const done = control.proof === 'proven';
  return (
    <section className={styles.after} aria-labelledby="after">
      <h3 id="after">
        {control.proof === 'no_control'
          ? 'No height control here'
          : done
            ? '✓ Under height control too'
            : 'Then: height control on'}
      </h3>
      <p>{control.proof_says}</p>
      {again !== undefined && control.proof !== 'no_control' && !done && (
        <p className={styles.afterActs}>
          <Link to={`/trials/new?${again}`}>Prove it under control, in a trial that begins at it</Link>
        </p>
      )}
      {again === undefined && control.proof !== 'no_control' && (
        <p className={styles.afterActs}>
          <Link to="/height/set-point">
            {control.chosen ? 'What the control is told' : 'Choose what to tell the control'}
          </Link>
          {control.chosen && next && (
            <Button variant="outlined" onClick={() => onLog('full', undefined, next, under)}>
              Log {KINDS[next]} cut under control
            </Button>
          )}
        </p>
      )}
    </section>
  );
}
