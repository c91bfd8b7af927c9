import { useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { ComplaintPicture } from './ComplaintPicture';
import styles from './trouble.module.css';

/** What an operator may come with, in the shop's words. */
export function Complaints({ onChoose }: { onChoose: (complaint: string) => void }) {
  const groups = useQuery({
    queryKey: ['complaints'],
    queryFn: () => answered(api.GET('/api/complaints')),
    staleTime: Infinity,
  });
  return (
    <div className={styles.groups}>
      {groups.data?.map((g) => (
        <section key={g.words} aria-label={g.words}>
          <h2>{g.words}</h2>
          {g.complaints.map((c) => (
            <button key={c.code} type="button" onClick={() => onChoose(c.code)}>
              <ComplaintPicture of={c.code} />
              {c.words}
            </button>
          ))}
        </section>
      ))}
    </div>
  );
}
