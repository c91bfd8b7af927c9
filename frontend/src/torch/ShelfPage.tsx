import { at } from '../kit/place';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { FileButton } from '../kit/FileButton';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { useSay } from '../kit/undo';
import styles from './parts.module.css';
import { stockQuery } from './queries';

type Line = Schema['StockLine'];

/** What lies on the shelf, how few there should be, what one costs, and what a month used. */
export function ShelfPage() {
  const stock = useQuery(stockQuery);
  const queries = useQueryClient();
  const say = useSay();
  const put = useMutation({
    mutationFn: (body: Schema['StockRequest']) => answered(api.PUT('/api/stock', { body })),
    onSuccess: (found) => {
      queries.setQueryData(stockQuery.queryKey, found);
      return queries.invalidateQueries();
    },
  });
  if (stock.isError && !stock.data) return <Notice kind="refusal">{refusalText(stock.error)}</Notice>;
  if (!stock.data) return <main className={styles.shelf} aria-busy="true" />;
  const sets = [...new Set(stock.data.lines.map((l) => l.torch_set))];
  const short = stock.data.lines.filter((l) => l.short);
  return (
    <main className={styles.shelf}>
      <header className={styles.head}>
        <h1>The shelf</h1>
        <p>
          {stock.data.month_cost !== null && (
            <>
              <b className="number">{stock.data.month_cost.toFixed(2)}</b> in thirty days.{' '}
            </>
          )}
          {stock.data.month_says}
        </p>
      </header>
      {short.length > 0 && (
        <Notice kind="caution" title="Fewer than there should be">
          {short.map((l) => `${l.word} of the ${l.torch_set}: ${l.on_shelf ?? 0}`).join('; ')}.
        </Notice>
      )}
      {put.isError && <Notice kind="refusal">{refusalText(put.error)}</Notice>}
      {sets.length === 0 && (
        <p>
          No torch set is noted yet: open a trial and name the set that is fitted, and its parts are
          listed here.
        </p>
      )}
      {sets.map((name) => (
        <section key={name} aria-label={name}>
          <h2>{name}</h2>
          <ul className={styles.lines}>
            {stock.data.lines
              .filter((l) => l.torch_set === name)
              .map((l) => (
                <ShelfLine key={l.part} line={l} onPut={(body) => put.mutate(body)} />
              ))}
          </ul>
        </section>
      ))}
      <p className={styles.files}>
        <a href={at('/api/stock.csv')} download>
          Save as a list
        </a>
        <FileButton<Schema['TakenInAnswer']>
          label="Take a list in"
          accept="text/csv,.csv"
          address={at('/api/stock/csv')}
          onTaken={async (made) => {
            say({ text: `${made.lines} lines taken in.` });
            await queries.invalidateQueries();
          }}
        />
      </p>
    </main>
  );
}

function ShelfLine({ line, onPut }: { line: Line; onPut: (body: Schema['StockRequest']) => void }) {
  const change = (some: Partial<Schema['StockRequest']>) =>
    onPut({
      torch_set_id: line.torch_set_id,
      part: line.part,
      on_shelf: line.on_shelf ?? 0,
      least: line.least ?? 0,
      cost: line.cost,
      ...some,
    });
  return (
    <li data-short={line.short}>
      <strong>
        {line.short ? '▲ ' : ''}
        {line.word}
      </strong>
      <NumberField
        label="On the shelf"
        value={line.on_shelf}
        least={0}
        whole
        whenLeft
        onType={(n) => change({ on_shelf: n ?? 0 })}
      />
      <NumberField
        label="At least"
        value={line.least}
        least={0}
        whole
        whenLeft
        onType={(n) => change({ least: n ?? 0 })}
      />
      <NumberField
        label="One costs"
        value={line.cost}
        least={0}
        whenLeft
        onType={(n) => change({ cost: n })}
      />
      <span className="soft">{line.used_month} in thirty days</span>
    </li>
  );
}
