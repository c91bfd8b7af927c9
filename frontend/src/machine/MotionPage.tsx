import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { useTable, useUnits } from '../kit/queries';
import { Acceleration } from './Acceleration';
import { BackOnMark } from './BackOnMark';
import { useCutWith } from './CutWith';
import { FirstTouch } from './FirstTouch';
import { KeptChecks } from './KeptChecks';
import styles from './motion.module.css';
import { settingsQuery } from './queries';
import { SlackOfDrives } from './SlackOfDrives';

const WHAT = [
  { value: 'acceleration', label: 'How quickly it comes to speed' },
  { value: 'slack', label: 'Slack in the drives' },
  { value: 'mark', label: 'Back on its mark' },
  { value: 'touch', label: 'Height of the first touch' },
] as const;

type What = (typeof WHAT)[number]['value'];
const KIND = {
  acceleration: 'acceleration',
  slack: 'slack',
  mark: 'lost_steps',
  touch: 'touch_height',
} as const;

/** What the machine really does: measured, one thing at a time, and kept. */
export function MotionPage() {
  const table = useTable();
  const units = useUnits();
  const page = useQuery({ ...settingsQuery(table?.id ?? 0), enabled: table !== null });
  const [asked, ask] = useSearchParams();
  const { of, choice } = useCutWith(table?.id ?? 0);
  const what = WHAT.find((w) => w.value === asked.get('what'))?.value ?? 'acceleration';
  if (page.isError && !page.data) return <Notice kind="refusal">{refusalText(page.error)}</Notice>;
  if (!table || !page.data) return null;
  return (
    <main className={styles.motion}>
      <h1>How it moves</h1>
      <Choices<What>
        label="Find out"
        value={what}
        choices={WHAT}
        onChoose={(w) => ask({ what: w }, { replace: true })}
      />
      {what === 'acceleration' && (
        <Acceleration page={page.data} of={of} choice={choice} units={units} />
      )}
      {what === 'slack' && <SlackOfDrives tableId={table.id} of={of} choice={choice} units={units} />}
      {what === 'mark' && <BackOnMark tableId={table.id} units={units} />}
      {what === 'touch' && <FirstTouch tableId={table.id} units={units} />}
      <KeptChecks tableId={table.id} kind={KIND[what]} />
    </main>
  );
}
