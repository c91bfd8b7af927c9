import { useState } from 'react';
import { COLUMN_WORDS } from '../kit/words.gen';
import styles from './book.module.css';
import type { Match, Preview } from './queries';

const SAME = '= the same for all';

/** Which column of the sheet is which of the Book, in what unit, with the first cells beside it. */
export function ColumnMatches({
  preview,
  change,
}: {
  preview: Preview;
  change: (matches: Record<string, Match>) => void;
}) {
  const [all, setAll] = useState(false);
  const set = (column: string, match: Match | null) => {
    const rest = Object.entries(preview.matches).filter(([name]) => name !== column);
    change(Object.fromEntries(match ? [...rest, [column, match]] : rest));
  };
  const shown = preview.columns.filter(
    (c) => all || c.needed || c.name === 'arc_voltage_v' || preview.matches[c.name],
  );
  return (
    <section aria-label="Columns" className={styles.matches}>
      <ul>
        {shown.map((c) => (
          <MatchLine
            key={c.name}
            column={c}
            match={preview.matches[c.name] ?? null}
            preview={preview}
            set={(m) => set(c.name, m)}
          />
        ))}
      </ul>
      <button type="button" className={styles.mend} onClick={() => setAll(!all)}>
        {all ? 'Only what is needed' : 'Gases, surface, bed, bounds'}
      </button>
    </section>
  );
}

interface LineProps {
  column: Preview['columns'][number];
  match: Match | null;
  preview: Preview;
  set: (match: Match | null) => void;
}

function MatchLine({ column, match, preview, set }: LineProps) {
  const word = COLUMN_WORDS[column.name] ?? column.name;
  const same = match !== null && match.heading === null;
  const [text, setText] = useState(match?.same_for_all ?? '');
  const at = match?.heading ? preview.headings.indexOf(match.heading) : -1;
  const cells = at < 0 ? [] : preview.first_cells.map((row) => row[at] ?? '');
  const unit = match?.unit ?? column.units[0] ?? null;
  return (
    <li data-missing={column.needed && !match?.heading && !match?.same_for_all}>
      <strong>{word}</strong>
      <select
        aria-label={`${word} is in`}
        value={same ? SAME : (match?.heading ?? '')}
        onChange={(e) => {
          const heading = e.target.value;
          if (heading === SAME) set({ heading: null, unit, same_for_all: text });
          else set(heading === '' ? null : { heading, unit, same_for_all: null });
        }}
      >
        <option value="">{column.needed ? 'choose…' : 'not given'}</option>
        {preview.headings.map((h) => (
          <option key={h} value={h}>
            {h}
          </option>
        ))}
        <option value={SAME}>{SAME}</option>
      </select>
      {column.units.length > 1 ? (
        <select
          aria-label={`${word} is in the unit`}
          value={unit ?? ''}
          disabled={match === null}
          onChange={(e) =>
            set({
              heading: match?.heading ?? null,
              same_for_all: match?.same_for_all ?? null,
              unit: e.target.value,
            })
          }
        >
          {column.units.map((u) => (
            <option key={u}>{u}</option>
          ))}
        </select>
      ) : (
        <span />
      )}
      {same ? (
        <input
          aria-label={`${word} for all rows`}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => set({ heading: null, unit, same_for_all: text })}
        />
      ) : (
        <span className="soft">{cells.filter(Boolean).join(' · ')}</span>
      )}
    </li>
  );
}
