import { useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { ComplaintPicture } from './ComplaintPicture';
import styles from './trouble.module.css';

/** What the last cut on the Bench shows: begun from here, whatever it answers is not asked. */
export function LastCut({
  tableId,
  onChoose,
}: {
  tableId: number;
  onChoose: (complaint: string) => void;
}) {
  const cut = useQuery({
    queryKey: ['trouble of the last cut', tableId],
    queryFn: () =>
      answered(
        api.GET('/api/tables/{table_id}/trouble/last-cut', { params: { path: { table_id: tableId } } }),
      ),
  });
  if (!cut.data?.complaints.length) return null;
  return (
    <section aria-label="The last cut" className={styles.lastCut}>
      <h2>
        Cut {cut.data.number} on the Bench, {cut.data.of}, shows
      </h2>
      <div>
        {cut.data.complaints.map((c) => (
          <button key={c.code} type="button" onClick={() => onChoose(c.code)}>
            <ComplaintPicture of={c.code} />
            <span>
              {c.words}
              <small>{c.why}</small>
            </span>
          </button>
        ))}
      </div>
    </section>
  );
}
