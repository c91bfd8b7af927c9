import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import { Notice, refusalText } from '../kit/Notice';
import { useAnswer, type ReadyItem } from './queries';
import styles from './ready.module.css';

/** Where an item is put right, when that is in Orthotome. */
const LEADS: Record<string, { to: string; label: string }> = {
  axes: { to: '/machine#axes', label: 'Jog the axes on the Machine page' },
  air_flowing: { to: '/machine#air', label: 'Work out the air on the Machine page' },
  cylinders: { to: '/machine#air', label: 'Work out the cylinders on the Machine page' },
  dry_run: { to: '/bench', label: 'The program, on the Bench' },
  parts_right: { to: '/choose', label: 'Which set suits this job?' },
};

/** One thing to check, as large as the screen allows. */
export function OneItem({
  tableId,
  item,
  left,
  onSkip,
}: {
  tableId: number;
  item: ReadyItem;
  left: number;
  onSkip: () => void;
}) {
  const give = useAnswer(tableId);
  const [wrong, setWrong] = useState(item.answer === 'not_right');
  const lead = LEADS[item.code];
  const right = () => give.mutate({ code: item.code, answer: item.caution ? 'acknowledged' : 'right' });
  return (
    <section className={styles.one} data-caution={item.caution} aria-labelledby="ask">
      <p className={styles.group}>
        {item.caution ? '▲ Caution' : item.group_label}
        <span>
          {item.because}; {left} to go
        </span>
      </p>
      <h2 id="ask" className={styles.ask}>
        {item.ask}
      </h2>
      {wrong && (
        <div className={styles.ifNot}>
          <strong>Do this</strong>
          <p>{item.if_not}</p>
          {lead && <Link to={lead.to}>{lead.label}</Link>}
        </div>
      )}
      {give.isError && <Notice kind="refusal">{refusalText(give.error)}</Notice>}
      <div className={styles.answers}>
        <Button variant="contained" disabled={give.isPending} onClick={right}>
          {item.caution ? 'Understood' : wrong ? 'Put right' : 'Right'}
        </Button>
        {!wrong && (
          <Button
            variant="outlined"
            disabled={give.isPending}
            onClick={() =>
              give.mutate({ code: item.code, answer: 'not_right' }, { onSuccess: () => setWrong(true) })
            }
          >
            Not right
          </Button>
        )}
        {!item.caution && (
          <Button
            variant="text"
            onClick={() => {
              if (wrong) give.mutate({ code: item.code, answer: 'skipped' });
              onSkip();
            }}
          >
            {wrong ? 'Go on without' : 'Skip'}
          </Button>
        )}
      </div>
    </section>
  );
}
