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
  const word = wordOf(column);
  const { heading: under = null, same_for_all: told = null } = match ?? {};
  const same = match !== null && under === null;
  const [text, setText] = useState(told ?? '');
  const unit = match?.unit ?? column.units[0] ?? null;
  return (
    <li data-missing={column.needed && !(under ?? told)}>
      <strong>{word}</strong>
      <select
        aria-label={`${word} is in`}
        value={same ? SAME : (under ?? '')}
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
      <UnitOf word={word} units={column.units} unit={unit} match={match} set={set} />
      {same ? (
        <input
          aria-label={`${word} for all rows`}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => set({ heading: null, unit, same_for_all: text })}
        />
      ) : (
        <span className="soft">{firstCells(preview, under)}</span>
      )}
    </li>
  );
}

const wordOf = ({ name }: Preview['columns'][number]): string => COLUMN_WORDS[name] ?? name;

interface UnitProps {
  word: string;
  units: readonly string[];
  unit: string | null;
  match: Match | null;
  set: (match: Match) => void;
}

/** The unit of a column, where it can have more than one. */
function UnitOf({ word, units, unit, match, set }: UnitProps) {
  if (units.length < 2) return <span />;
  const { heading = null, same_for_all: sameForAll = null } = match ?? {};
  return (
    <select
      aria-label={`${word} is in the unit`}
      value={unit ?? ''}
      disabled={match === null}
      onChange={(e) => set({ heading, same_for_all: sameForAll, unit: e.target.value })}
    >
      {units.map((u) => (
        <option key={u}>{u}</option>
      ))}
    </select>
  );
}

/** What stands in the first rows under a heading. */
function firstCells({ headings, first_cells: rows }: Preview, heading: string | null): string {
  const at = heading === null ? -1 : headings.indexOf(heading);
  return rows
    .map((row) => row[at] ?? '')
    .filter(Boolean)
    .join(' · ');
}
