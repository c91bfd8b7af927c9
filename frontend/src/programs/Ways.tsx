import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { showAlong } from '../kit/units';
import { minutes } from './clock';
import styles from './ways.module.css';
import { waysQuery, type SetWays, type Way } from './queries';

interface Props {
  programId: number;
  /** The set whose split is drawn on the sheet. */
  shown: SetWays | null;
  onShow: (ways: SetWays | null) => void;
}

/** Whole with its own set, whole with another, or split between the two: time and cost beside each other. */
export function Ways({ programId, shown, onShow }: Props) {
  const ways = useQuery(waysQuery(programId));
  if (ways.isError) return <Notice kind="refusal">{refusalText(ways.error)}</Notice>;
  if (!ways.data) return <p aria-busy="true">Timing it with every set…</p>;
  const { own, own_set, sets, refused, assumed } = ways.data;
  const longest = Math.max(
    own?.seconds ?? 0,
    ...sets.flatMap((s) => [s.other.seconds, s.split?.seconds ?? 0]),
  );
  return (
    <div className={styles.ways}>
      {sets.length === 0 && <p>No other set of the shop has numbers for this plate.</p>}
      {own && (
        <ol className={styles.rows} aria-label={`With the ${own_set}`}>
          <Row way={own} title={`Whole with the ${own_set}`} longest={longest} own={own_set} />
        </ol>
      )}
      {sets.map((s) => (
        <OfSet
          key={s.torch_set_id}
          programId={programId}
          ways={s}
          own={own_set}
          longest={longest}
          shown={shown?.torch_set_id === s.torch_set_id}
          onShow={onShow}
        />
      ))}
      <p className="soft">
        {sets.some((s) => s.split) && `${assumed} `}
        {refused.map((r) => `${r.torch_set}: ${r.why}`).join(' ')}
      </p>
    </div>
  );
}

function OfSet({
  programId,
  ways,
  own,
  longest,
  shown,
  onShow,
}: {
  programId: number;
  ways: SetWays;
  own: string;
  longest: number;
  shown: boolean;
  onShow: (ways: SetWays | null) => void;
}) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const write = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/programs/{program_id}/split', {
          params: { path: { program_id: programId } },
          body: { torch_set_id: ways.torch_set_id },
        }),
      ),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['programs'] });
      if (made[0]) await navigate(`/programs/${made[0].id}`);
    },
  });
  return (
    <section className={styles.set} aria-label={ways.torch_set}>
      <h3>{ways.torch_set}</h3>
      <p>{ways.says}</p>
      <ol className={styles.rows}>
        <Row way={ways.other} title={`Whole with the ${ways.torch_set}`} longest={longest} own={own} />
        {ways.split && <Row way={ways.split} title="Split between them" longest={longest} own={own} />}
      </ol>
      <p className="soft">{ways.numbers_from}</p>
      {ways.split && (
        <div className={styles.acts}>
          <Button variant="outlined" aria-pressed={shown} onClick={() => onShow(shown ? null : ways)}>
            {shown ? 'Take it off the sheet' : 'Show it on the sheet'}
          </Button>
          <Button variant="outlined" disabled={write.isPending} onClick={() => write.mutate()}>
            {write.isPending ? 'Writing both…' : 'Write the two programs'}
          </Button>
        </div>
      )}
      {write.isError && (
        <Notice kind="refusal" title="It cannot be split so">
          {refusalText(write.error)}
        </Notice>
      )}
    </section>
  );
}

/** One way: a bar as long as it takes, a stretch for each set, and its figures. */
function Row({ way, title, longest, own }: { way: Way; title: string; longest: number; own: string }) {
  const units = useUnits();
  const stages = way.stages.reduce((sum, s) => sum + s.seconds, 0);
  return (
    <li className={styles.row}>
      <strong>{title}</strong>
      <span className={styles.bar} aria-hidden="true">
        {way.stages.map((s, i) => (
          <span key={i} style={{ display: 'contents' }}>
            {i > 0 && (
              <i data-change style={{ width: `${(100 * (way.seconds - stages)) / longest}%` }} />
            )}
            <i data-own={s.torch_set === own} style={{ width: `${(100 * s.seconds) / longest}%` }} />
          </span>
        ))}
      </span>
      <span className={styles.figures}>
        <b className="number">{minutes(way.seconds)}</b> min
        <b className="number">{Math.round(100 * way.share_at_speed)}</b> % at speed
        <b className="number">{way.cost === null ? '?' : way.cost.toFixed(2)}</b> a run
        {way.gas_l !== null && (
          <>
            <b className="number">{showAlong('gas', way.gas_l, units).text}</b>
            {` ${showAlong('gas', way.gas_l, units).unit} of gas`}
          </>
        )}
      </span>
      {way.stages.length > 1 && (
        <small>
          {way.stages
            .map(
              (s) =>
                `${s.torch_set}: ${s.pierces} ${s.pierces === 1 ? 'start' : 'starts'}, ${minutes(s.seconds)} min`,
            )
            .join('; ')}
        </small>
      )}
    </li>
  );
}
