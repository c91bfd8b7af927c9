import { Match } from '../kit/Match';
import type { Log } from './log';
import styles from './log.module.css';
import { isTapped, tapDross } from './typing';

/** Whether it dropped, and what hangs underneath: matched with a picture, told by the effort to take it off. */
export function Underside({ log, change }: { log: Log; change: (to: Log) => void }) {
  return (
    <div className={styles.underside}>
      <fieldset>
        <legend>Did it drop?</legend>
        <div className={styles.row}>
          {log.sheet.through.map((t) => (
            <button
              key={t.value}
              type="button"
              aria-pressed={log.through === t.value}
              onClick={() => change({ ...log, through: t.value as Log['through'] })}
            >
              {t.label}
            </button>
          ))}
        </div>
      </fieldset>
      <fieldset>
        <legend>Underside: how does it come off?</legend>
        <div className={styles.dross}>
          {log.sheet.dross.map((d) => (
            <button
              key={`${d.kind} ${d.grade}`}
              type="button"
              aria-pressed={isTapped(log.dross, d.kind, d.grade)}
              onClick={() => change(tapDross(log, d.kind, d.grade))}
            >
              {d.label}
              <small>{d.effort}</small>
              {d.kind && d.kind !== 'top_spatter' && (
                <Match picture="grade" value={String(d.grade)} kind={d.kind} />
              )}
            </button>
          ))}
        </div>
        <p className={styles.hint}>{log.sheet.dross_looks}</p>
        <button
          type="button"
          className={styles.spatter}
          aria-pressed={log.spatter}
          onClick={() => change({ ...log, spatter: !log.spatter })}
        >
          Spatter on top
        </button>
      </fieldset>
    </div>
  );
}
