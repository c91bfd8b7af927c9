import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { useDraft } from '../kit/draft';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import { COLUMN_WORDS } from '../kit/words.gen';
import styles from './book.module.css';
import { ColumnMatches } from './ColumnMatches';
import { SameForAll } from './SameForAll';
import type { Match, Preview } from './queries';

type Swirl = 'clockwise' | 'counter_clockwise';

interface Pasted {
  text: string;
  swirl: Swirl | null;
  matches: Record<string, Match> | null;
}

interface Asked {
  text: string;
  matches: Record<string, Match> | null;
}

const NOTHING: Pasted = { text: '', swirl: null, matches: null };

/** Rows from a spreadsheet or a file: pasted, matched, looked over, and only then taken in. */
export function ImportPage() {
  // What was pasted outlives a reload, and a look at another room.
  const [pasted, setPasted] = useDraft<Pasted>('pasted rows', NOTHING);
  const { text, swirl } = pasted;
  // What was found stays while the next is worked out: a form is never taken away under typing fingers.
  const [found, setFound] = useState<Preview | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const say = useSay();
  const preview = useMutation({
    mutationFn: (asked: Asked) => answered(api.POST('/api/book/import/preview', { body: asked })),
    onSuccess: (answer, asked) => {
      if (asked !== latest.current) return; // another was asked meanwhile: its answer counts
      setFound(answer);
      setPasted((was) => (was.text === asked.text ? { ...was, matches: answer.matches } : was));
    },
  });
  const latest = useRef<Asked | null>(null);
  const { mutate } = preview;
  const lookOver = useCallback(
    (asked: Asked) => {
      latest.current = asked;
      mutate(asked);
    },
    [mutate],
  );
  const begun = useRef(pasted);
  useEffect(() => {
    const { text: kept, matches } = begun.current;
    if (kept.trim() !== '') lookOver({ text: kept, matches });
  }, [lookOver]);
  const take = useMutation({
    mutationFn: (keep_good: boolean) =>
      answered(
        api.POST('/api/book/import', {
          body: {
            text,
            matches: found?.matches ?? null,
            new_sets_swirl: swirl,
            keep_good,
            // Tapped beside the questions, on a button that says so.
            questions_are_right: (found?.questions.length ?? 0) > 0,
          },
        }),
      ),
    onSuccess: async (done) => {
      setPasted(NOTHING);
      await queries.invalidateQueries();
      say({
        text: `Taken in: ${done.added} new, ${done.superseded} in place of older ones, ${done.known} there already${done.left_out ? `; ${done.left_out} left out` : ''}.`,
      });
      void navigate(back ?? '/book');
    },
  });
  const [asked] = useSearchParams();
  const back = asked.get('back');
  const waiting = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** Looks at once at what was pasted, and after a pause at what is typed. */
  const look = (given: string, pause = 0) => {
    setPasted((was) => ({ ...was, text: given, matches: null }));
    take.reset();
    clearTimeout(waiting.current);
    if (given.trim() === '') {
      preview.reset();
      setFound(null);
    } else waiting.current = setTimeout(() => lookOver({ text: given, matches: null }), pause);
  };
  const change = (matches: Record<string, Match>) => {
    take.reset();
    setFound((was) => was && { ...was, matches }); // what is matched next is matched beside it
    lookOver({ text, matches });
  };
  return (
    <main className={styles.book}>
      <header className={styles.head}>
        <h1>Take in rows</h1>
        <Link to="/book" className={styles.rowsFile}>
          Back to the Book
        </Link>
      </header>
      <Paste text={text} rows={found ? 4 : 10} look={look} />
      {preview.isError && <Notice kind="refusal">{refusalText(preview.error)}</Notice>}
      {found && (
        <>
          <SameForAll found={found} change={change} />
          <Matched found={found} />
          <TheirSwirl
            sets={found.new_sets}
            swirl={swirl}
            onChoose={(to) => setPasted((was) => ({ ...was, swirl: to }))}
          />
          {take.isError && (
            <Notice kind="refusal" title="Nothing was taken in">
              {refusalText(take.error)}
            </Notice>
          )}
          <TakeButtons
            found={found}
            waiting={
              take.isPending || preview.isPending || (found.new_sets.length > 0 && swirl === null)
            }
            onTake={(keepGood) => take.mutate(keepGood)}
          />
          <ColumnMatches preview={found} change={change} />
        </>
      )}
    </main>
  );
}

/** How many rows can be used, and every one that cannot, with its reason. */
function Verdict({ found }: { found: Preview }) {
  return (
    <section aria-label="Rows looked over" className={styles.looked}>
      <p>
        <b className="number">{found.good}</b> of {found.rows} rows can be used
        {found.bad.length > 0 && (
          <>
            , <b className="number">{found.bad.length}</b> cannot:
          </>
        )}
      </p>
      {found.bad.length > 0 && (
        <ol className={styles.badRows}>
          {found.bad.map((b) => (
            <li key={`${b.line} ${b.column}`}>
              <strong>line {b.line}</strong>
              <span>
                {COLUMN_WORDS[b.column] ?? b.column}: {b.sentence}
              </span>
            </li>
          ))}
        </ol>
      )}
      {found.questions.map((q) => (
        <Notice key={`${q.line} ${q.column}`} kind="caution">
          Line {q.line}, {(COLUMN_WORDS[q.column] ?? q.column).toLowerCase()}: {q.sentence}
        </Notice>
      ))}
    </section>
  );
}

function TakeButtons({
  found,
  waiting,
  onTake,
}: {
  found: Preview;
  waiting: boolean;
  onTake: (keepGood: boolean) => void;
}) {
  const bad = found.bad.length;
  const right = found.questions.length > 0 ? 'They are right: take' : 'Take';
  if (found.unmatched.length > 0 || found.good === 0) return null;
  return (
    <div className={styles.take}>
      <Button variant="contained" size="large" disabled={waiting} onClick={() => onTake(bad > 0)}>
        {bad === 0
          ? `${right} in ${found.good} rows`
          : `${right} in the ${found.good} good rows, leave ${bad} out`}
      </Button>
      {bad > 0 && (
        <p className="soft">Or mend the file and paste it again: until you tap, nothing is taken in.</p>
      )}
    </div>
  );
}

interface PasteProps {
  text: string;
  rows: number;
  /** Looks at what was given, at once or after a pause. */
  look: (given: string, pause?: number) => void;
}

/** Where rows are pasted, or a file with them is chosen. */
function Paste({ text, rows, look }: PasteProps) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <div className={styles.paste}>
      <label>
        Paste cells from a spreadsheet, headings and all
        <textarea
          value={text}
          rows={rows}
          spellCheck={false}
          onChange={(e) => look(e.target.value, 250)}
          placeholder={'thickness\tspeed (ipm)\tvolts\tcut height\t…'}
        />
      </label>
      <input
        ref={file}
        type="file"
        accept=".csv,.tsv,.txt,.json,text/csv,application/json"
        hidden
        aria-label="File with rows"
        onChange={(e) => {
          void e.target.files?.[0]?.text().then((t) => look(t));
          e.target.value = '';
        }}
      />
      <Button variant="outlined" onClick={() => file.current?.click()}>
        or choose a CSV or JSON file
      </Button>
    </div>
  );
}

/** What the columns come to, or which are not matched yet. */
function Matched({ found }: { found: Preview }) {
  if (found.unmatched.length === 0) return <Verdict found={found} />;
  return (
    <Notice kind="note" title="Not matched yet">
      {found.unmatched.map((c) => COLUMN_WORDS[c] ?? c).join(', ')}: choose a column, or give one value
      for all rows.
    </Notice>
  );
}

interface TheirSwirlProps {
  sets: readonly string[];
  swirl: Pasted['swirl'];
  onChoose: (swirl: Pasted['swirl']) => void;
}

/** The swirl of sets that are new to the shop, which no row says. */
function TheirSwirl({ sets, swirl, onChoose }: TheirSwirlProps) {
  if (sets.length === 0) return null;
  return (
    <Choices
      label={`New to the shop: ${sets.join(', ')}. Their swirl, seen from above`}
      value={swirl}
      choices={[
        { value: 'clockwise', label: 'clockwise (right side squarer)' },
        { value: 'counter_clockwise', label: 'counter-clockwise (left squarer)' },
      ]}
      onChoose={onChoose}
    />
  );
}
