import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { Choices } from '../kit/Choices';
import { metalsQuery, torchSetsQuery } from '../kit/queries';
import { TextField } from '../kit/TextField';
import { NewTorchSet } from '../trial/NewTorchSet';
import styles from './book.module.css';
import type { Match, Preview } from './queries';

type Matches = Record<string, Match>;

const same = (text: string): Match => ({ heading: null, unit: null, same_for_all: text });

/** What a page of rows says once for all of them: its metal, the torch set with its amperage and gas, and where it is from. */
export function SameForAll({ found, change }: { found: Preview; change: (matches: Matches) => void }) {
  const metals = useQuery(metalsQuery);
  const sets = useQuery(torchSetsQuery);
  const [asked] = useSearchParams();
  const [adding, setAdding] = useState(false);
  const open = (column: string) => !found.matches[column]?.heading;
  const value = (column: string) => found.matches[column]?.same_for_all ?? null;
  const give = (told: Record<string, string>) =>
    change({
      ...found.matches,
      ...Object.fromEntries(Object.entries(told).map(([name, text]) => [name, same(text)])),
    });
  const ofSet = (name: string): Record<string, string> => {
    const set = sets.data?.find((s) => s.name === name);
    if (!set) return {};
    return {
      torch_set: set.name,
      ...(open('amperage_a') ? { amperage_a: String(set.amperage_a) } : {}),
      ...(open('gas') ? { gas: set.gas } : {}),
    };
  };
  const brought = asked.get('set') ?? (sets.data?.length === 1 ? sets.data[0]?.name : null) ?? null;
  const metal = asked.get('metal');
  const ready = sets.isSuccess && metals.isSuccess;
  useEffect(() => {
    // What the shop or the trial says already is filled in; every bit of it can be said otherwise.
    if (!ready) return;
    const told = {
      ...(open('torch_set') && value('torch_set') === null && brought ? ofSet(brought) : {}),
      ...(open('metal') && value('metal') === null && metal ? { metal } : {}),
    };
    if (Object.keys(told).length > 0) give(told);
    // Filled in once for each sheet that is looked over.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, found.headings.join()]);
  if (!sets.data || !metals.data) return null;
  const foreign = found.new_sets.length === 1 && !open('torch_set') ? found.new_sets[0] : undefined;
  return (
    <section aria-label="The same for all rows" className={styles.sameForAll}>
      {foreign !== undefined && sets.data.length > 0 && (
        <Choices
          label={`“${foreign}” is new to the shop. Did you mean`}
          value={null}
          choices={sets.data.map((s) => ({ value: s.name, label: s.name }))}
          onChoose={(name) => give(ofSet(name))}
        />
      )}
      {open('metal') && (
        <Choices
          label="Metal, the same for all"
          value={value('metal')}
          choices={metals.data.map((m) => ({ value: m.name, label: m.label }))}
          onChoose={(name) => give({ metal: name })}
        />
      )}
      {open('torch_set') && sets.data.length > 0 && !adding && (
        <>
          <Choices
            label="Torch set, with its amperage and gas"
            value={value('torch_set')}
            choices={sets.data.map((s) => ({
              value: s.name,
              label: `${s.name}, ${s.amperage_a} A, ${s.gas}`,
            }))}
            onChoose={(name) => give(ofSet(name))}
          />
          <button type="button" className={styles.mend} onClick={() => setAdding(true)}>
            Another torch set
          </button>
        </>
      )}
      {open('torch_set') && (sets.data.length === 0 || adding) && (
        <NewTorchSet onAdded={() => setAdding(false)} />
      )}
      {open('source') && (
        <Source key={value('source') ?? ''} begun={value('source') ?? ''} give={give} />
      )}
    </section>
  );
}

const USUAL_SOURCES = ['the torch’s manual', 'a neighbour shop', 'own guess'] as const;

/** Where the rows are from, kept when the field is left. */
function Source({ begun, give }: { begun: string; give: (told: Record<string, string>) => void }) {
  const [text, setText] = useState(begun);
  return (
    <>
      <Choices
        label="Where the rows are from"
        value={USUAL_SOURCES.find((s) => s === text) ?? null}
        choices={USUAL_SOURCES.map((s) => ({ value: s, label: s }))}
        onChoose={(source) => give({ source })}
      />
      <div
        onBlur={() => {
          if (text.trim() !== '' && text !== begun) give({ source: text.trim() });
        }}
      >
        <TextField
          label="or in your words"
          value={text}
          most={200}
          placeholder="manual and page"
          onType={setText}
        />
      </div>
    </>
  );
}
