import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { useDraft } from '../kit/draft';
import { Notice, refusalText } from '../kit/Notice';
import { NoTable } from '../kit/NoTable';
import { useTable } from '../kit/queries';
import { Cases } from './Cases';
import { Causes } from './Causes';
import { Complaints } from './Complaints';
import { LastCut } from './LastCut';
import { Question } from './Question';
import { Told } from './Told';
import styles from './trouble.module.css';
import type { Facts } from './queries';

interface Draft {
  complaint: string | null;
  facts: Facts;
  /** Begun from the last cut on the Bench: what it shows is known. */
  ofCut: boolean;
}

const NOTHING: Draft = { complaint: null, facts: {}, ofCut: false };

/** From what is seen to its cause, one question at a time. */
export function TroublePage() {
  const table = useTable();
  if (table === null) return <NoTable />;
  return <Trouble key={table.id} tableId={table.id} />;
}

function Trouble({ tableId }: { tableId: number }) {
  const [draft, setDraft] = useDraft(`trouble ${tableId}`, NOTHING);
  if (draft.complaint === null)
    return (
      <main className={styles.trouble}>
        <h1>What do you see?</h1>
        <LastCut
          tableId={tableId}
          onChoose={(complaint) => setDraft({ complaint, facts: {}, ofCut: true })}
        />
        <Complaints onChoose={(complaint) => setDraft({ complaint, facts: {}, ofCut: false })} />
        <Cases />
      </main>
    );
  return (
    <Asked
      tableId={tableId}
      complaint={draft.complaint}
      facts={draft.facts}
      ofCut={draft.ofCut}
      onFacts={(facts) => setDraft({ ...draft, facts })}
      onAnew={() => setDraft(NOTHING)}
    />
  );
}

function Asked({
  tableId,
  complaint,
  facts,
  ofCut,
  onFacts,
  onAnew,
}: {
  tableId: number;
  complaint: string;
  facts: Facts;
  ofCut: boolean;
  onFacts: (facts: Facts) => void;
  onAnew: () => void;
}) {
  const found = useQuery({
    queryKey: ['trouble', tableId, complaint, facts, ofCut],
    queryFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/trouble', {
          params: { path: { table_id: tableId } },
          body: { complaint, facts, of_cut: ofCut },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (found.isError)
    return (
      <main className={styles.trouble}>
        <h1>Trouble</h1>
        <Notice kind="refusal">{refusalText(found.error)}</Notice>
        <Button onClick={onAnew}>Begin anew</Button>
      </main>
    );
  if (!found.data) return null;
  const t = found.data;
  const asked = new URLSearchParams({
    complaint,
    facts: JSON.stringify(facts),
    of_cut: String(ofCut),
  }).toString();
  const help = (form: 'pdf' | 'zip') => at(`/api/tables/${tableId}/trouble.${form}?${asked}`);
  return (
    <main className={styles.trouble}>
      <header className={styles.head}>
        <h1>{t.words}</h1>
        <a href={help('pdf')} target="_blank" rel="noreferrer">
          On paper, to ask somebody
        </a>
        <a href={help('zip')} download>
          With the trial and pictures, one file
        </a>
        <Button variant="outlined" onClick={onAnew}>
          Something else
        </Button>
      </header>
      <div className={styles.columns}>
        <div className={styles.asked}>
          {t.ask ? (
            <Question
              key={t.ask.code}
              ask={t.ask}
              onAnswer={(answer) => onFacts({ ...facts, [t.ask?.code ?? '']: answer })}
            />
          ) : (
            <p className={styles.done}>
              {(t.causes[0]?.chance ?? 0) > 0.8
                ? 'Nothing more needs asking: prove it on the machine.'
                : 'No question that is known tells more: prove the likeliest on the machine, one after the other.'}
            </p>
          )}
          {t.changed_last && <p>{t.changed_last}</p>}
          {t.here_before && <p>{t.here_before}</p>}
          <Told
            told={t.told}
            known={t.known}
            onTakeBack={(code) =>
              onFacts(Object.fromEntries(Object.entries(facts).filter(([c]) => c !== code)))
            }
            onOtherwise={(code) => onFacts({ ...facts, [code]: 'not_known' })}
          />
        </div>
        <Causes
          tableId={tableId}
          complaint={complaint}
          facts={facts}
          ofCut={ofCut}
          trouble={t}
          onSolved={onAnew}
        />
      </div>
    </main>
  );
}
