import { Notice, refusalText } from '../kit/Notice';
import { everyInWords, useAnswer, type ReadyItem } from './queries';
import styles from './ready.module.css';

/** The whole list by the order of work; tap what is right. */
export function WholeList({ tableId, items }: { tableId: number; items: ReadyItem[] }) {
  const give = useAnswer(tableId);
  const groups = [...new Set(items.map((i) => i.group_label))];
  return (
    <div className={styles.list}>
      {give.isError && <Notice kind="refusal">{refusalText(give.error)}</Notice>}
      {groups.map((group) => (
        <section key={group} aria-label={group}>
          <h2>{group}</h2>
          <ul>
            {items
              .filter((i) => i.group_label === group)
              .map((i) => (
                <li key={i.code} data-due={i.due} data-caution={i.caution}>
                  <span>
                    {i.caution && '▲ '}
                    {i.ask}
                    <small>
                      {i.answer === 'not_right'
                        ? `Not right. ${i.if_not}`
                        : `${i.due ? i.because : 'holds'}, ${everyInWords(i.every)}${i.own ? ', our own' : ''}`}
                    </small>
                  </span>
                  <button
                    type="button"
                    aria-pressed={!i.due}
                    onClick={() =>
                      give.mutate({ code: i.code, answer: i.caution ? 'acknowledged' : 'right' })
                    }
                  >
                    {i.due ? (i.caution ? 'Understood' : 'Right') : '■ right'}
                  </button>
                  <button
                    type="button"
                    aria-pressed={i.answer === 'not_right'}
                    onClick={() => give.mutate({ code: i.code, answer: 'not_right' })}
                  >
                    Not right
                  </button>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
