import { at } from '../kit/place';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { FileButton } from '../kit/FileButton';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { QuantityField } from '../kit/QuantityField';
import { showThickness } from '../kit/units';
import styles from './programs.module.css';
import { offersQuery, programQuery, type Offer, type Program } from './queries';
import { useState } from 'react';

const NONE = 'none';
const OTHER_SET = 'other set'; // the plate of its setting, with another set's numbers
const keyOf = (o: Pick<Offer, 'recipe_id' | 'trial_id'>) =>
  o.recipe_id !== null ? `r${o.recipe_id}` : o.trial_id !== null ? `t${o.trial_id}` : NONE;

/** What a program is held against: setting, sheet and the part's drawing; and checked again when one has moved. */
export function AgainstForm({ program }: { program: Program }) {
  const units = useUnits();
  const offers = useQuery(offersQuery(program.table_id));
  const queries = useQueryClient();
  const taken = (found: Program) => {
    queries.setQueryData(programQuery(program.id).queryKey, found);
    return queries.invalidateQueries({ queryKey: ['programs'] });
  };
  const change = useMutation({
    mutationFn: (some: Partial<Schema['ProgramRequest']>) =>
      answered(
        api.PUT('/api/programs/{program_id}/against', {
          params: { path: { program_id: program.id } },
          body: {
            version: program.version,
            recipe_id: program.recipe_id,
            trial_id: program.trial_id,
            torch_set_id: program.torch_set_id,
            sheet_x_mm: program.sheet_x_mm,
            sheet_y_mm: program.sheet_y_mm,
            ...some,
          },
        }),
      ),
    onSuccess: taken,
  });
  const [wide, setWide] = useState(program.sheet_x_mm);
  const [deep, setDeep] = useState(program.sheet_y_mm);
  const sheet = (x: number | null, y: number | null) => {
    setWide(x);
    setDeep(y);
    const whole = (x === null) === (y === null);
    if (whole && (x !== program.sheet_x_mm || y !== program.sheet_y_mm))
      change.mutate({ sheet_x_mm: x, sheet_y_mm: y });
  };
  const here = program.torch_set_id === null ? keyOf(program) : OTHER_SET;
  const known = offers.data?.some((o) => keyOf(o) === here) || here === NONE;
  const text = (mm: number | null) => (mm === null ? '' : showThickness(mm, units).text);
  return (
    <section className={styles.against} aria-label="Checked against">
      <TextField
        select
        label="Checked against"
        value={here}
        onChange={(e) => {
          const offer = offers.data?.find((o) => keyOf(o) === e.target.value);
          if (e.target.value !== OTHER_SET)
            change.mutate({
              recipe_id: offer?.recipe_id ?? null,
              trial_id: offer?.trial_id ?? null,
              torch_set_id: null,
            });
        }}
      >
        {!known && <MenuItem value={here}>{program.against}</MenuItem>}
        {offers.data?.map((o) => (
          <MenuItem key={keyOf(o)} value={keyOf(o)}>
            {o.title}
            {o.fitted ? '' : ` (${o.torch_set}, not fitted)`}
          </MenuItem>
        ))}
        <MenuItem value={NONE}>no setting</MenuItem>
      </TextField>
      <QuantityField
        label="Sheet, X"
        quantity="length"
        unit={units.length_unit}
        initial={text(program.sheet_x_mm)}
        whenLeft
        onRead={(v) => sheet(v, deep)}
      />
      <QuantityField
        label="Sheet, Y"
        quantity="length"
        unit={units.length_unit}
        initial={text(program.sheet_y_mm)}
        whenLeft
        onRead={(v) => sheet(wide, v)}
      />
      <div className={styles.drawing}>
        <FileButton<Program>
          label={program.drawing_name ? 'Another drawing' : 'Lay the drawing over'}
          accept=".dxf,.svg,image/svg+xml,image/vnd.dxf"
          address={(name) =>
            at(
              `/api/programs/${program.id}/drawing?version=${program.version}&name=${encodeURIComponent(name)}`,
            )
          }
          onTaken={taken}
        />
        {program.drawing_name && <small>{program.drawing_name}</small>}
      </div>
      {program.moved.length > 0 && (
        <Notice kind="caution" title="Moved since it was checked">
          {program.moved.join(' ')} What is shown is against what holds now.{' '}
          <Button onClick={() => change.mutate({})}>Keep it as checked again</Button>
        </Notice>
      )}
      {change.isError && <Notice kind="refusal">{refusalText(change.error)}</Notice>}
    </section>
  );
}
