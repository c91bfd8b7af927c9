import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { FileButton } from '../kit/FileButton';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import { backupsQuery, when, type Backup } from './queries';
import { RestoreDialog } from './RestoreDialog';
import styles from './shop.module.css';

const WHY: Record<Backup['why'], string> = {
  daily: 'of the day',
  by_hand: 'made by hand',
  before_update: 'before an update',
  before_restore: 'before a restore',
  brought_in: 'brought in',
};

const SHOWN = 8;

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;

/** The records: when they were last kept, keeping them now, and getting them back. */
export function Backups() {
  const kept = useQuery(backupsQuery);
  const queries = useQueryClient();
  const say = useSay();
  const [all, setAll] = useState(false);
  const [back, setBack] = useState<Backup | null>(null);
  const again = () => queries.invalidateQueries({ queryKey: backupsQuery.queryKey });
  const make = useMutation({
    mutationFn: () => answered(api.POST('/api/backups')),
    onSuccess: async () => {
      say({ text: 'Backed up, opened and checked.' });
      await again();
    },
  });
  if (kept.isError && !kept.data) return <Notice kind="refusal">{refusalText(kept.error)}</Notice>;
  if (!kept.data) return null;
  const [newest] = kept.data.backups;
  const shown = all ? kept.data.backups : kept.data.backups.slice(0, SHOWN);
  return (
    <section className={styles.records} aria-labelledby="records">
      <h2 id="records">Records</h2>
      <p className={styles.last}>
        {newest ? (
          <>
            Last kept <strong>{when(newest.made_at)}</strong>
          </>
        ) : (
          'Not kept yet: the first backup of the day is made in a moment.'
        )}
      </p>
      {kept.data.trouble && (
        <Notice kind="refusal" title="Today’s backup was not made">
          {kept.data.trouble}
        </Notice>
      )}
      {kept.data.clock && <Notice kind="caution">{kept.data.clock}</Notice>}
      <div className={styles.acts}>
        <Button variant="contained" disabled={make.isPending} onClick={() => make.mutate()}>
          {make.isPending ? 'Backing up …' : 'Back up now'}
        </Button>
        <FileButton
          label="Bring one in"
          address="/api/backups/brought-in"
          accept=".backup,.sqlite"
          onTaken={async () => {
            say({ text: 'Brought in and checked. It is restored only when you say so.' });
            await again();
          }}
        />
      </div>
      {make.isError && <Notice kind="refusal">{refusalText(make.error)}</Notice>}
      <ul className={styles.backups}>
        {shown.map((b) => (
          <li key={b.name}>
            <span>
              <strong>{when(b.made_at)}</strong>
              <small>
                {WHY[b.why]}, {megabytes(b.bytes)}
              </small>
            </span>
            <a href={`/api/backups/${b.name}/file`} download>
              Take a copy
            </a>
            <button type="button" onClick={() => setBack(b)}>
              Restore …
            </button>
          </li>
        ))}
      </ul>
      {kept.data.backups.length > shown.length && (
        <Button variant="text" onClick={() => setAll(true)}>
          All {kept.data.backups.length}
        </Button>
      )}
      <p className={styles.soft}>
        One is made by itself each day and before every update; older ones are thinned out. They lie in{' '}
        <code>{kept.data.folder}</code>, on the same disk as the records: take a copy somewhere else now
        and then.
      </p>
      {back && <RestoreDialog backup={back} onClose={() => setBack(null)} />}
    </section>
  );
}
