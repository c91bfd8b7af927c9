import { useQuery } from '@tanstack/react-query';
import { doorQuery } from '../kit/door';
import { shopQuery } from '../kit/queries';
import { Backups } from './Backups';
import { Devices } from './Devices';
import { People } from './People';
import styles from './shop.module.css';

/** What the shop is beyond its tables: its records and how they are kept, its devices, its people. */
export function ShopPage() {
  const shop = useQuery(shopQuery);
  const door = useQuery(doorQuery);
  if (!shop.data || !door.data) return null;
  const leads = door.data.role === 'lead_hand';
  return (
    <main className={styles.shop}>
      <h1>{shop.data.name || 'The shop'}</h1>
      {!leads && (
        <p className={styles.soft}>
          Records, devices and people are looked after by a lead hand: sign on as one to see them.
        </p>
      )}
      {leads && (
        <div className={styles.halves}>
          <Backups />
          <div className={styles.who}>
            <Devices here={!door.data.on_network} />
            <People />
          </div>
        </div>
      )}
    </main>
  );
}
