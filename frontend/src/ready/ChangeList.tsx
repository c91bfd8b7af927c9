import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { TextField } from '../kit/TextField';
import { PERIODS, type Every, type Ready, type ReadyItem } from './queries';
import styles from './ready.module.css';

const GROUPS = [
  { value: 'parts', label: 'parts' },
  { value: 'air', label: 'air' },
  { value: 'machine', label: 'machine' },
  { value: 'dry_run', label: 'dry run' },
  { value: 'first_cut', label: 'first cut' },
] as const;

/** The shop's own list: drop, re-time, add. Cautions stay. */
export function ChangeList({ ready, onClose }: { ready: Ready; onClose: () => void }) {
  const queries = useQueryClient();
  const rule = useMutation({
    mutationFn: (r: { code: string; dropped: boolean; every?: Every }) =>
      answered(
        api.PUT('/api/readiness/rules/{code}', {
          params: { path: { code: r.code } },
          body: { dropped: r.dropped, every: r.every ?? null },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['readiness'] }),
  });
  return (
    <Dialog open fullWidth maxWidth="md" onClose={onClose} aria-labelledby="change-list">
      <DialogTitle id="change-list">What this shop checks</DialogTitle>
      <DialogContent>
        {rule.isError && <Notice kind="refusal">{refusalText(rule.error)}</Notice>}
        <ul className={styles.rules}>
          {ready.items
            .filter((i) => !i.caution)
            .map((i) => (
              <Rule key={i.code} item={i} change={(r) => rule.mutate({ code: i.code, ...r })} />
            ))}
          {ready.dropped.map((code) => (
            <li key={code}>
              <span className={styles.soft}>{code.replaceAll('_', ' ')}, dropped</span>
              <Button variant="outlined" onClick={() => rule.mutate({ code, dropped: false })}>
                Ask it again
              </Button>
            </li>
          ))}
        </ul>
        <p className={styles.soft}>
          Cautions are not on this list: they can be acknowledged, not dropped.
        </p>
        <OwnItem />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Done</Button>
      </DialogActions>
    </Dialog>
  );
}

function Rule({
  item,
  change,
}: {
  item: ReadyItem;
  change: (rule: { dropped: boolean; every?: Every }) => void;
}) {
  const numbered = item.every.period === 'starts' || item.every.period === 'days';
  return (
    <li>
      <span>{item.ask}</span>
      <select
        aria-label={`How often: ${item.ask}`}
        value={item.every.period}
        onChange={(e) =>
          change({
            dropped: false,
            every: {
              period: e.target.value as Every['period'],
              number: e.target.value === 'starts' ? 60 : e.target.value === 'days' ? 7 : 1,
            },
          })
        }
      >
        {PERIODS.map((p) => (
          <option key={p.value} value={p.value}>
            {p.label}
          </option>
        ))}
      </select>
      {numbered && (
        <input
          aria-label={`Number: ${item.ask}`}
          defaultValue={item.every.number}
          inputMode="numeric"
          onBlur={(e) => {
            const number = Number(e.target.value);
            if (number >= 1 && number !== item.every.number)
              change({ dropped: false, every: { ...item.every, number: Math.round(number) } });
          }}
        />
      )}
      <Button variant="outlined" onClick={() => change({ dropped: true })}>
        Drop
      </Button>
    </li>
  );
}

function OwnItem() {
  const [ask, setAsk] = useState('');
  const [ifNot, setIfNot] = useState('');
  const [group, setGroup] = useState<(typeof GROUPS)[number]['value']>('machine');
  const [starts, setStarts] = useState<number | null>(null);
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/readiness/own', {
          body: {
            ask,
            if_not: ifNot,
            group,
            every:
              starts === null
                ? { period: 'session', number: 1 }
                : { period: 'starts', number: Math.round(starts) },
          },
        }),
      ),
    onSuccess: () => {
      setAsk('');
      setIfNot('');
      return queries.invalidateQueries({ queryKey: ['readiness'] });
    },
  });
  return (
    <fieldset className={styles.own}>
      <legend>Add your own</legend>
      <TextField label="What to check" value={ask} most={200} onType={setAsk} />
      <TextField label="What to do if it is not right" value={ifNot} most={200} onType={setIfNot} />
      <Choices label="Where in the order" value={group} choices={GROUPS} onChoose={setGroup} />
      <NumberField
        label="Every so many starts"
        value={starts}
        onType={setStarts}
        help="left empty: every session"
      />
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
      <Button
        variant="outlined"
        disabled={!ask.trim() || !ifNot.trim() || add.isPending}
        onClick={() => add.mutate()}
      >
        Add it
      </Button>
    </fieldset>
  );
}
