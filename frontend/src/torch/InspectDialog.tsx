import { at } from '../kit/place';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import { PartPicture } from './PartPicture';
import styles from './parts.module.css';
import { looksQuery, VERDICT_SIGNS, type Part } from './queries';

type Inspect = Schema['InspectRequest'];
type Ball = Schema['BallRequest'];
type How = 'gauge' | 'ball';

/** Looking at a part: each thing beside how a new one looks, the pit measured, and what it comes to. */
export function InspectDialog(p: {
  part: Part;
  beforeHands: string;
  units: ShopUnits;
  onClose: () => void;
}) {
  const { part, units } = p;
  const kinds = useQuery(looksQuery);
  const facts = kinds.data?.find((k) => k.part === part.part);
  const [key] = useState(() => crypto.randomUUID());
  const [looks, setLooks] = useState<Record<string, string>>({});
  const [how, setHow] = useState<How>('gauge');
  const [pit, setPit] = useState<number | null>(null);
  const [ball, setBall] = useState<Partial<Ball>>({});
  const [verdict, setVerdict] = useState<Inspect['verdict']>(null);
  const [note, setNote] = useState('');
  const [photo, setPhoto] = useState<File | null>(null);
  const queries = useQueryClient();
  const say = useSay();
  const whole = how === 'ball' ? wholeOf(ball) : null;
  const body: Inspect = {
    key,
    looks,
    pit_mm: how === 'gauge' ? pit : null,
    ball: whole,
    verdict,
    note,
  };
  const seen = isSeen(body);
  const path = { part_id: part.id };
  const judged = useQuery({
    queryKey: ['looked', part.id, looks, body.pit_mm, whole],
    queryFn: () =>
      answered(
        api.POST('/api/parts/{part_id}/looked', { params: { path }, body: { ...body, verdict: null } }),
      ),
    enabled: seen,
    placeholderData: (before) => before,
  });
  const save = useMutation({
    mutationFn: async () => {
      const noted = await answered(
        api.POST('/api/parts/{part_id}/inspections', { params: { path }, body }),
      );
      if (photo) await keepPhoto(noted.id, photo);
      return noted;
    },
    onSuccess: async () => {
      say({ text: `Noted at ${part.counts.starts} starts.` });
      p.onClose();
      await queries.invalidateQueries();
    },
  });
  return (
    <Dialog open onClose={p.onClose} aria-labelledby="looking" fullWidth maxWidth="md">
      <DialogTitle id="looking">
        The {part.word} at {part.counts.starts} starts
      </DialogTitle>
      <DialogContent className={styles.inspect}>
        <Notice kind="caution" title="Before hands go near the torch">
          {p.beforeHands}
        </Notice>
        {facts?.looks.map((look) => (
          <LikeWhich
            key={look.what}
            part={part.part}
            look={look}
            value={looks[look.what] ?? null}
            onChoose={(value) => setLooks((l) => ({ ...l, [look.what]: value }))}
          />
        ))}
        {part.part === 'electrode' && (
          <DepthOfPit
            how={how}
            units={units}
            onHow={setHow}
            onPit={setPit}
            onBall={(some) => setBall((b) => ({ ...b, ...some }))}
          />
        )}
        {judged.isError && <Notice kind="refusal">{refusalText(judged.error)}</Notice>}
        {seen && judged.isSuccess && <Judged judged={judged.data} units={units} />}
        <Choices<NonNullable<Inspect['verdict']>>
          label="What you say of it, if not that"
          value={verdict ?? null}
          onChoose={setVerdict}
          choices={[
            { value: 'keep', label: 'keep' },
            { value: 'watch', label: 'watch' },
            { value: 'rough_work', label: 'rough work' },
            { value: 'replace', label: 'replace' },
          ]}
        />
        <TextField label="Note" value={note} most={500} onType={setNote} />
        <Photo photo={photo} onPhoto={setPhoto} />
        {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
      </DialogContent>
      <DialogActions>
        <Button onClick={p.onClose}>Leave it</Button>
        <SaveButton
          disabled={(!seen && verdict === null) || judged.isError || save.isPending}
          onClick={() => save.mutate()}
        >
          Note it
        </SaveButton>
      </DialogActions>
    </Dialog>
  );
}

/** The three lengths of a pit that is measured over a ball, once all are given. */
function wholeOf({ rim_mm, over_ball_mm, ball_mm }: Partial<Ball>): Ball | null {
  return rim_mm && over_ball_mm && ball_mm ? { rim_mm, over_ball_mm, ball_mm } : null;
}

async function keepPhoto(inspectionId: number, photo: File): Promise<void> {
  const address = at(`/api/inspections/${inspectionId}/photo`);
  const response = await fetch(address, { method: 'PUT', body: photo });
  const said = (await response.json()) as object;
  await answered<object>(
    Promise.resolve(response.ok ? { data: said, response } : { error: said, response }),
  );
}

interface LikeWhichProps {
  part: Part['part'];
  look: Schema['PartLookModel'];
  value: string | null;
  onChoose: (value: string) => void;
}

/** One thing to look at, beside how a new part has it. */
function LikeWhich({ part, look, value, onChoose }: LikeWhichProps) {
  return (
    <Choices
      label={`${look.ask}: like which?`}
      value={value}
      onChoose={onChoose}
      choices={look.seen.map((s, i) => ({
        value: s.value,
        label: (
          <span className={styles.picture}>
            <PartPicture part={part} what={look.what} value={s.value} />
            <span>
              {s.word}
              <small>{i === 0 ? 'as a new one' : s.does}</small>
            </span>
          </span>
        ),
      }))}
    />
  );
}

interface DepthProps {
  how: How;
  units: ShopUnits;
  onHow: (how: How) => void;
  onPit: (mm: number | null) => void;
  onBall: (some: Partial<Ball>) => void;
}

/** How deep the electrode is burnt, by a gauge or over a ball. */
function DepthOfPit({ how, units, onHow, onPit, onBall }: DepthProps) {
  const length = (label: string, name: keyof Ball) => (
    <QuantityField
      label={label}
      quantity="length"
      unit={units.length_unit}
      onRead={(mm) => onBall({ [name]: mm ?? undefined })}
    />
  );
  return (
    <section aria-label="Depth of the pit">
      <Choices
        label="Depth of the pit, by"
        value={how}
        onChoose={onHow}
        choices={[
          { value: 'gauge', label: 'a depth gauge' },
          { value: 'ball', label: 'a calliper and a ball' },
        ]}
      />
      {how === 'gauge' ? (
        <QuantityField
          label="Pit"
          quantity="length"
          unit={units.length_unit}
          onRead={onPit}
          help="From the rim to the ground of the pit."
        />
      ) : (
        <div className={styles.ball}>
          {length('Length to the rim', 'rim_mm')}
          {length('Length over the ball in the pit', 'over_ball_mm')}
          {length('Ball', 'ball_mm')}
        </div>
      )}
    </section>
  );
}

/** What it comes to, while it is looked at. */
function Judged({ judged, units }: { judged: Schema['JudgedAnswer']; units: ShopUnits }) {
  const text = (mm: number) => showLength(mm, units).text;
  return (
    <p className={styles.verdict} data-verdict={judged.verdict} aria-live="polite">
      <b>
        {VERDICT_SIGNS[judged.verdict]} {judged.verdict_word}
      </b>
      {judged.why}
      {judged.pit_mm !== null &&
        ` Pit ${text(judged.pit_mm)} ± ${text(judged.u_mm ?? 0)} ${units.length_unit}.`}
    </p>
  );
}

/** A photo that goes with it. */
function Photo({ photo, onPhoto }: { photo: File | null; onPhoto: (photo: File | null) => void }) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={file}
        type="file"
        accept="image/jpeg,image/png,image/webp,image/heic,image/heif"
        hidden
        aria-label="A photo of it"
        onChange={(e) => onPhoto(e.target.files?.[0] ?? null)}
      />
      <Button variant="outlined" onClick={() => file.current?.click()}>
        {photo ? `Photo: ${photo.name}` : 'Add a photo'}
      </Button>
    </>
  );
}

/** Whether anything was looked at or measured. */
const isSeen = ({ looks, pit_mm: pit, ball }: Inspect): boolean =>
  Object.keys(looks ?? {}).length > 0 || (pit ?? null) !== null || (ball ?? null) !== null;
