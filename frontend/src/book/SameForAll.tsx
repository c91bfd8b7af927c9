import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { Choices } from '../kit/Choices';
import type { TorchSet } from '../kit/client';
import { metalsQuery, torchSetsQuery } from '../kit/queries';
import { TextField } from '../kit/TextField';
import { NewTorchSet } from '../torch/NewTorchSet';
import styles from './book.module.css';
import type { Match, Preview } from './queries';

type Matches = Record<string, Match>;

const same = (text: string): Match => ({ heading: null, unit: null, same_for_all: text });

type Told = Record<string, string>;

const isOpen = (found: Preview, column: string): boolean => !found.matches[column]?.heading;

const valueOf = (found: Preview, column: string): string | null =>
  found.matches[column]?.same_for_all ?? null;

/** A set of the shop's, with the amperage and the gas that no column gives. */
function ofSet(found: Preview, sets: readonly TorchSet[], name: string): Told {
  const set = sets.find((s) => s.name === name);
  if (!set) return {};
  return {
    torch_set: set.name,
    ...(isOpen(found, 'amperage_a') ? { amperage_a: String(set.amperage_a) } : {}),
    ...(isOpen(found, 'gas') ? { gas: set.gas } : {}),
  };
}

/** What the shop says already, or the trial that the rows are for. */
function broughtAlong(found: Preview, sets: readonly TorchSet[], asked: URLSearchParams): Told {
  const wanted = (column: string) => isOpen(found, column) && valueOf(found, column) === null;
  const set = asked.get('set') ?? (sets.length === 1 ? sets[0]?.name : undefined);
  const metal = asked.get('metal');
  return {
    ...(set && wanted('torch_set') ? ofSet(found, sets, set) : {}),
    ...(metal && wanted('metal') ? { metal } : {}),
  };
}

interface Props {
  found: Preview;
  change: (matches: Matches) => void;
}

/** What a page of rows says once for all of them: its metal, the torch set with its amperage and gas, and where it is from. */
export function SameForAll({ found, change }: Props) {
  const metals = useQuery(metalsQuery);
  const sets = useQuery(torchSetsQuery);
  const [asked] = useSearchParams();
  const give = (told: Told) =>
    change({
      ...found.matches,
      ...Object.fromEntries(Object.entries(told).map(([name, text]) => [name, same(text)])),
    });
  const ready = sets.isSuccess && metals.isSuccess;
  useEffect(() => {
    // What the shop or the trial says already is filled in; every bit of it can be said otherwise.
    if (!ready) return;
    const told = broughtAlong(found, sets.data, asked);
    if (Object.keys(told).length > 0) give(told);
    // Filled in once for each sheet that is looked over.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, found.headings.join()]);
  if (!sets.data || !metals.data) return null;
  const source = valueOf(found, 'source') ?? '';
  return (
    <section aria-label="The same for all rows" className={styles.sameForAll}>
      <DidYouMean found={found} sets={sets.data} give={give} />
      {isOpen(found, 'metal') && (
        <Choices
          label="Metal, the same for all"
          value={valueOf(found, 'metal')}
          choices={metals.data.map((m) => ({ value: m.name, label: m.label }))}
          onChoose={(name) => give({ metal: name })}
        />
      )}
      {isOpen(found, 'torch_set') && <WhichSet found={found} sets={sets.data} give={give} />}
      {isOpen(found, 'source') && <Source key={source} begun={source} give={give} />}
    </section>
  );
}

interface SetProps {
  found: Preview;
  sets: readonly TorchSet[];
  give: (told: Told) => void;
}

/** A set that the sheet names and the shop has not: mostly one of the shop's under another name. */
function DidYouMean({ found, sets, give }: SetProps) {
  const [foreign, ...others] = found.new_sets;
  if (foreign === undefined || others.length > 0) return null;
  if (isOpen(found, 'torch_set') || sets.length === 0) return null;
  return (
    <Choices
      label={`“${foreign}” is new to the shop. Did you mean`}
      value={null}
      choices={sets.map((s) => ({ value: s.name, label: s.name }))}
      onChoose={(name) => give(ofSet(found, sets, name))}
    />
  );
}

function WhichSet({ found, sets, give }: SetProps) {
  const [adding, setAdding] = useState(false);
  if (sets.length === 0 || adding) return <NewTorchSet onAdded={() => setAdding(false)} />;
  return (
    <>
      <Choices
        label="Torch set, with its amperage and gas"
        value={valueOf(found, 'torch_set')}
        choices={sets.map((s) => ({ value: s.name, label: `${s.name}, ${s.amperage_a} A, ${s.gas}` }))}
        onChoose={(name) => give(ofSet(found, sets, name))}
      />
      <button type="button" className={styles.mend} onClick={() => setAdding(true)}>
        Another torch set
      </button>
    </>
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
