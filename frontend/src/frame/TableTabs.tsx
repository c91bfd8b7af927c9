import { useQuery } from '@tanstack/react-query';
import { FittedButton } from '../torch/FittedButton';
import { PRACTISING } from '../kit/place';
import { tablesQuery } from '../kit/queries';
import { useSettings } from '../kit/settings';
import styles from './frame.module.css';

/** Which table this screen stands at, and what is fitted there. */
export function TableTabs() {
  const tables = useQuery(tablesQuery);
  const { tableId, setTableId } = useSettings();
  const now = tables.data?.find((t) => t.id === tableId) ?? tables.data?.[0];
  if (!tables.data || !now) return null;
  if (PRACTISING) return <FittedButton table={now} />; // which exercise it is of, the band says
  return (
    <>
      <div role="group" aria-label="Table" className={styles.tabs}>
        {tables.data.map((t) => (
          <button
            key={t.id}
            type="button"
            aria-pressed={t.id === now.id}
            onClick={() => setTableId(t.id)}
          >
            {t.name}
          </button>
        ))}
      </div>
      <FittedButton table={now} />
    </>
  );
}
