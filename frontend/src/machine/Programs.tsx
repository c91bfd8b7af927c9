import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { useUnits } from '../kit/queries';
import { inInches, showSpeed } from '../kit/units';
import { TextField } from '../kit/TextField';
import styles from './machine.module.css';
import type { Change, Page } from './queries';

type Profile = Schema['OutputProfile'];

const UNITS = [
  { value: 'mm', label: 'metric' },
  { value: 'in', label: 'inch' },
] as const;

const ARCS = [
  { value: 'centre', label: 'by their centre' },
  { value: 'segments', label: 'as short lines' },
] as const;

const DELAYS = [
  { value: 's', label: 's' },
  { value: 'ms', label: 'ms' },
] as const;

const SPEEDS = [
  { value: 'every_move', label: 'in every move' },
  { value: 'on_change', label: 'when it changes' },
] as const;

const HEIGHTS = [
  { value: 'written', label: 'written' },
  { value: 'hand', label: 'set by hand' },
] as const;

const COMMENTS = [
  { value: 'brackets', label: '( )' },
  { value: 'semicolon', label: ';' },
  { value: 'none', label: 'none' },
] as const;

const STAND_INS = new Set(['M76']);

const ENDINGS = [
  { value: 'lf', label: 'LF' },
  { value: 'crlf', label: 'CR LF' },
] as const;

/** How this table wants its programs written, with a small piece written that way beside it. */
export function Programs({ page, change }: { page: Page; change: Change }) {
  const shipped = useQuery({
    queryKey: ['profiles'],
    queryFn: () => answered(api.GET('/api/profiles')),
    staleTime: Infinity,
  });
  const units = useUnits();
  if (!shipped.data) return null;
  const usual = shipped.data.find((p) => p.name === (inInches(units) ? 'inch' : 'metric'));
  const now = page.settings.profile ?? usual;
  if (!now) return null;
  return (
    <section className={styles.air} aria-labelledby="programs">
      <h2 id="programs">How its programs are written</h2>
      <Choices
        label="Begin from"
        value={now.name}
        choices={shipped.data.map((p) => ({ value: p.name, label: p.name }))}
        onChoose={(name) => change({ profile: shipped.data.find((p) => p.name === name) ?? null })}
      />
      <Editor key={JSON.stringify(now)} page={page} kept={now} change={change} />
    </section>
  );
}

function Editor({ page, kept, change }: { page: Page; kept: Profile; change: Change }) {
  const [profile, setProfile] = useState(kept);
  const shop = useUnits();
  const preview = useQuery({
    queryKey: ['profile-preview', profile, page.settings.x_runs, page.settings.y_runs],
    queryFn: () =>
      answered(
        api.POST('/api/profiles/preview', {
          body: {
            profile,
            x_runs: page.settings.x_runs ?? null,
            y_runs: page.settings.y_runs ?? null,
          },
        }),
      ),
    placeholderData: (before) => before,
  });
  const set = (some: Partial<Profile>) => setProfile({ ...profile, ...some });
  const changed = JSON.stringify(profile) !== JSON.stringify(kept);
  const words = (
    name:
      | 'torch_on'
      | 'torch_off'
      | 'height_on'
      | 'height_off'
      | 'height_hold'
      | 'height_follow'
      | 'stop_before_pierce'
      | 'arc_centres',
  ) => ({
    value: profile[name],
    most: 80,
    onType: (text: string) => set({ [name]: text }),
  });
  const lines = (name: 'header' | 'footer' | 'touch_off') => ({
    value: profile[name].join('\n'),
    most: 2000,
    lines: 2,
    onType: (text: string) => set({ [name]: text === '' ? [] : text.split('\n') }),
  });
  return (
    <div className={styles.profile}>
      <div className={styles.numbers}>
        <Ways profile={profile} set={set} />
        <TextField label="Torch on" {...words('torch_on')} />
        <TextField label="Torch off" {...words('torch_off')} />
        <TextField
          label="Arc centres from the arc’s start"
          {...words('arc_centres')}
          placeholder="none"
        />
        <QuantityField
          label="Down to the cut height at"
          quantity="speed"
          means="cut_speed"
          unit={shop.speed_unit}
          initial={showSpeed(profile.plunge_mm_min, shop).text}
          onRead={(v) => v !== null && set({ plunge_mm_min: v })}
        />
        <TextField label="Height control on" {...words('height_on')} placeholder="none" />
        <TextField label="Height control off" {...words('height_off')} placeholder="none" />
        <TextField
          label="Hold the height"
          {...words('height_hold')}
          placeholder="none: off and on again"
        />
        <TextField label="Follow it again" {...words('height_follow')} placeholder="none" />
        <TextField label="Stop before each pierce" {...words('stop_before_pierce')} placeholder="none" />
        <TextField label="Touch off, before each pierce" {...lines('touch_off')} placeholder="none" />
        <TextField label="Lines at the top" {...lines('header')} />
        <TextField label="Lines at the end" {...lines('footer')} />
        <TextField label="Its name" value={profile.name} most={200} onType={(name) => set({ name })} />
      </div>
      <div className={styles.preview}>
        <StandIns profile={profile} />
        {preview.isError ? (
          <Notice kind="refusal" title="A program is not written like that">
            {refusalText(preview.error)}
          </Notice>
        ) : (
          <pre role="region" tabIndex={0} aria-label="A small piece, written like that">
            {preview.data?.program}
          </pre>
        )}
        <button type="button" disabled={!changed || preview.isError} onClick={() => change({ profile })}>
          {changed ? 'Write this table’s programs like that' : 'This is how they are written'}
        </button>
      </div>
    </div>
  );
}

interface WaysProps {
  profile: Profile;
  set: (some: Partial<Profile>) => void;
}

/** What is chosen between, of how a program is written. */
function Ways({ profile, set }: WaysProps) {
  return (
    <>
      <Choices
        label="Units"
        value={profile.units}
        choices={UNITS}
        onChoose={(units) => set({ units, decimals: units === 'in' ? 5 : 3 })}
      />
      <NumberField label="Decimals" value={profile.decimals} onType={(d) => set({ decimals: d ?? 0 })} />
      <Choices label="Arcs" value={profile.arcs} choices={ARCS} onChoose={(arcs) => set({ arcs })} />
      <Choices
        label="Delay in"
        value={profile.delay_unit}
        choices={DELAYS}
        onChoose={(delay_unit) => set({ delay_unit })}
      />
      <Choices
        label="Speed said"
        value={profile.speed_words}
        choices={SPEEDS}
        onChoose={(speed_words) => set({ speed_words })}
      />
      <Choices
        label="Heights"
        value={profile.sets_height ? 'written' : 'hand'}
        choices={HEIGHTS}
        onChoose={(v) => set({ sets_height: v === 'written' })}
      />
      <Choices
        label="Comments"
        value={profile.comments}
        choices={COMMENTS}
        onChoose={(comments) => set({ comments })}
      />
      <Choices
        label="Lines end in"
        value={profile.line_ending}
        choices={ENDINGS}
        onChoose={(line_ending) => set({ line_ending })}
      />
    </>
  );
}

/** Words that only keep their place until the control's own are typed. */
function StandIns({ profile }: { profile: Profile }) {
  if (!STAND_INS.has(profile.height_on)) return null;
  return (
    <Notice kind="caution" title="Stand-ins: type your control’s own words">
      RS-274 has no words for height control. {profile.height_on} and {profile.height_off} only keep
      their place; its manual names the words that your control knows.
    </Notice>
  );
}
