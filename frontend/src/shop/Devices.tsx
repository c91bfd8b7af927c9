import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { devicesQuery, networkQuery, pairingQuery, when } from './queries';
import styles from './shop.module.css';

/** The screens beside this one: whether the network is served, letting one in, putting one out. */
export function Devices({ here }: { here: boolean }) {
  const network = useQuery(networkQuery);
  const devices = useQuery(devicesQuery);
  const queries = useQueryClient();
  const out = useMutation({
    mutationFn: (id: number) =>
      answered(api.DELETE('/api/devices/{device_id}', { params: { path: { device_id: id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: devicesQuery.queryKey }),
  });
  if (!network.data) return null;
  return (
    <section aria-labelledby="devices">
      <h2 id="devices">Devices</h2>
      {!network.data.on && (
        <p className={styles.soft}>
          Only this machine is served. For the tablet at the torch, stop Orthotome and start it with{' '}
          <code>--lan</code>: the shop’s own network is then served too, and only to devices paired here.
        </p>
      )}
      {network.data.on && here && <Pairing fingerprint={network.data.fingerprint} />}
      <ul className={styles.rows}>
        {devices.data?.map((d) => (
          <li key={d.id}>
            <span>
              <strong>{d.name}</strong>
              <small>
                {d.person ? `${d.person} is signed on` : 'nobody signed on'}, paired {when(d.paired_at)}
              </small>
              {d.wrong_at && (
                <small className={styles.wrong}>
                  ▲ {d.wrong_pins} wrong {d.wrong_pins === 1 ? 'PIN' : 'PINs'} for{' '}
                  {d.wrong_for.join(', ')}, last {when(d.wrong_at)}
                </small>
              )}
            </span>
            <button type="button" disabled={out.isPending} onClick={() => out.mutate(d.id)}>
              Put out
            </button>
          </li>
        ))}
      </ul>
      {network.data.wrong_codes > 0 && (
        <p className={styles.wrong}>
          ▲ {network.data.wrong_codes} wrong pairing {network.data.wrong_codes === 1 ? 'code' : 'codes'}{' '}
          since Orthotome was started.
        </p>
      )}
      {out.isError && <Notice kind="refusal">{refusalText(out.error)}</Notice>}
    </section>
  );
}

function Pairing({ fingerprint }: { fingerprint: string }) {
  const pairing = useQuery(pairingQuery);
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: () => answered(api.POST('/api/pairing')),
    onSuccess: (shown) => queries.setQueryData(pairingQuery.queryKey, shown),
  });
  const shown = pairing.data?.code ? pairing.data : null;
  if (!shown) {
    return (
      <div className={styles.acts}>
        <Button variant="outlined" disabled={begin.isPending} onClick={() => begin.mutate()}>
          Let a device in
        </Button>
        {begin.isError && <Notice kind="refusal">{refusalText(begin.error)}</Notice>}
      </div>
    );
  }
  return (
    <div className={styles.pairing}>
      <img
        alt="Square code that leads to the pairing page"
        src={`data:image/svg+xml;utf8,${encodeURIComponent(shown.square_code)}`}
      />
      <div>
        <p className={styles.code}>{shown.code}</p>
        <p>
          Read the square with the device’s camera, or open <strong>{shown.address}</strong> there and
          type the code. It lets one device in, within {Math.max(1, Math.ceil(shown.seconds_left / 60))}{' '}
          min.
        </p>
        <details>
          <summary>The device warns of the certificate</summary>
          <p>
            It does not know this machine yet. Compare the SHA-256 fingerprint it shows with this one,
            and go on only if they are the same. To be rid of the warning, install{' '}
            <a href="/api/network/certificate" download>
              the certificate
            </a>{' '}
            on the device.
          </p>
          <code>{fingerprint}</code>
        </details>
      </div>
    </div>
  );
}
