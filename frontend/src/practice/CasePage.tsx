import Button from '@mui/material/Button';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { answered, ofShop, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { useDraft } from '../kit/draft';
import { Notice, refusalText } from '../kit/Notice';
import { Debrief } from './Debrief';
import styles from './practice.module.css';

type State = Schema['CaseState'];
type Act = State['acts'][number]['code'];

const EFFORTS = [
  ['look', 'By a look'],
  ['measure', 'By measuring'],
  ['cut', 'By a cut'],
] as const;

interface Taken {
  asked: readonly string[];
  cause: string | null;
  act: Act | null;
}

const NOTHING: Taken = { asked: [], cause: null, act: null };

/** One case of practice: asked, named, and shown. */
export function CasePage() {
  const { caseId = '' } = useParams();
  return <OneCase key={caseId} caseId={caseId} />;
}

function OneCase({ caseId }: { caseId: string }) {
  const [taken, setTaken] = useDraft(`practice ${caseId}`, NOTHING);
  const queries = useQueryClient();
  const state = useQuery({
    queryKey: ['practice case', caseId, taken.asked],
    queryFn: () =>
      answered(ofShop.POST('/api/practice/case', { body: { case: caseId, asked: [...taken.asked] } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const named = useMutation({
    mutationFn: (body: { cause: string; act: Act }) =>
      answered(
        ofShop.POST('/api/practice/named', { body: { case: caseId, asked: [...taken.asked], ...body } }),
      ),
    onSuccess: () => {
      setTaken(NOTHING);
      return queries.invalidateQueries({ queryKey: ['practice'] });
    },
  });
  if (state.isError)
    return (
      <main className={styles.practice}>
        <h1>Practice</h1>
        <Notice kind="refusal">{refusalText(state.error)}</Notice>
        <Link to="/practice">All exercises</Link>
      </main>
    );
  if (!state.data) return null;
  const s = state.data;
  return (
    <main className={styles.practice}>
      <header>
        <p className={styles.marked}>Practice, not a real table</p>
        <h1>{s.words}</h1>
        <p>
          {s.title}. <Link to="/practice">All exercises</Link>
        </p>
      </header>
      {named.data ? (
        <Debrief how={named.data} onAgain={() => named.reset()} />
      ) : (
        <div className={styles.columns}>
          <Ask state={s} onAsk={(code) => setTaken((t) => ({ ...t, asked: [...t.asked, code] }))} />
          <div className={styles.side}>
            <Found state={s} />
            <section aria-label="Name it" className={styles.name}>
              <h2>What is it?</h2>
              <Choices<string>
                label="The cause"
                value={taken.cause}
                choices={s.causes.map((c) => ({ value: c.code, label: c.title }))}
                onChoose={(cause) => setTaken((t) => ({ ...t, cause }))}
              />
              <Choices<Act>
                label="What you do first"
                value={taken.act}
                choices={s.acts.map((a) => ({ value: a.code, label: a.words }))}
                onChoose={(act) => setTaken((t) => ({ ...t, act }))}
              />
              <Button
                variant="contained"
                disabled={taken.cause === null || taken.act === null || named.isPending}
                onClick={() =>
                  taken.cause !== null &&
                  taken.act !== null &&
                  named.mutate({ cause: taken.cause, act: taken.act })
                }
              >
                That is it: show me the truth
              </Button>
              {named.isError && <Notice kind="refusal">{refusalText(named.error)}</Notice>}
            </section>
          </div>
        </div>
      )}
    </main>
  );
}

/** What can be asked, the cheap first. */
function Ask({ state, onAsk }: { state: State; onAsk: (code: string) => void }) {
  return (
    <section aria-label="What you can ask" className={styles.ask}>
      {EFFORTS.map(([effort, words]) => {
        const some = state.questions.filter((q) => q.effort === effort);
        return (
          some.length > 0 && (
            <div key={effort}>
              <h2>
                {words} <small>each counts {some[0]?.cost}</small>
              </h2>
              {some.map((q) => (
                <button key={q.code} type="button" onClick={() => onAsk(q.code)}>
                  {q.question}
                </button>
              ))}
            </div>
          )
        );
      })}
    </section>
  );
}

function Found({ state }: { state: State }) {
  return (
    <section aria-label="What was found" className={styles.found}>
      <h2>
        Found so far, for <b className="number">{state.spent.toFixed(1)}</b> looks
      </h2>
      {state.steps.length === 0 && <p className="soft">Nothing yet: ask what would tell most.</p>}
      <ol>
        {state.steps.map((s) => (
          <li key={s.code}>
            {s.question} <strong>{s.answer}</strong>
          </li>
        ))}
      </ol>
    </section>
  );
}
