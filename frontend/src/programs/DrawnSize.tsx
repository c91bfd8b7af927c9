import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { showThickness, type ShopUnits } from '../kit/units';
import styles from './programs.module.css';
import { programQuery, type Program } from './queries';

interface Props {
  program: Program;
  contour: number;
  units: ShopUnits;
}

/** Keeps the drawn size of a contour, or forgets it. */
function useKeepSize(program: Program, contour: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (size: { x_mm: number; y_mm: number } | null) =>
      answered(
        api.PUT('/api/programs/{program_id}/nominal', {
          params: { path: { program_id: program.id } },
          body: {
            version: program.version,
            sizes: [
              ...program.nominal.filter((n) => n.contour !== contour),
              ...(size ? [{ contour, ...size }] : []),
            ],
          },
        }),
      ),
    onSuccess: (found) => {
      queries.setQueryData(programQuery(program.id).queryKey, found);
      return queries.invalidateQueries({ queryKey: ['programs'] });
    },
  });
}

/** The size that the part is to have at a contour, where no drawing says it: it tells where the kerf went. */
export function DrawnSize({ program, contour, units }: Props) {
  const known = program.nominal.find((n) => n.contour === contour);
  const round = program.found.contours[contour]?.kind === 'hole';
  const { x_mm: knownX = null, y_mm: knownY = null } = known ?? {};
  const [x, setX] = useState(knownX);
  const [y, setY] = useState(knownY);
  const save = useKeepSize(program, contour);
  const across = round ? x : y;
  const size = x !== null && across !== null ? { x_mm: x, y_mm: across } : null;
  const text = (mm: number | null) => (mm ? showThickness(mm, units).text : '');
  return (
    <div className={styles.drawnSize}>
      <QuantityField
        label={round ? 'Drawn diameter' : 'Drawn size, X'}
        quantity="length"
        unit={units.length_unit}
        initial={text(knownX)}
        onRead={setX}
      />
      {!round && (
        <QuantityField
          label="Drawn size, Y"
          quantity="length"
          unit={units.length_unit}
          initial={text(knownY)}
          onRead={setY}
        />
      )}
      <Button
        variant="outlined"
        disabled={size === null || save.isPending}
        onClick={() => save.mutate(size)}
      >
        Hold it against that
      </Button>
      {known && <Button onClick={() => save.mutate(null)}>Forget the size</Button>}
      {known && !save.isPending && <p role="status">{whereKerfWent(program, contour)}</p>}
      {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
    </div>
  );
}

const OF_KERF: readonly string[] = ['no_kerf_compensation', 'kerf_wrong_side'];

function whereKerfWent({ found }: Program, contour: number): string {
  const kerf = found.findings.find((f) => f.contour === contour && OF_KERF.includes(f.code));
  return kerf?.why ?? 'Half a kerf lies in the scrap, as it should at that size.';
}
