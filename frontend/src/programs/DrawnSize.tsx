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

/** The size that the part is to have at a contour, where no drawing says it: it tells where the kerf went. */
export function DrawnSize({ program, contour, units }: Props) {
  const queries = useQueryClient();
  const known = program.nominal.find((n) => n.contour === contour);
  const round = program.found.contours[contour]?.kind === 'hole';
  const [x, setX] = useState(known?.x_mm ?? null);
  const [y, setY] = useState(known?.y_mm ?? null);
  const save = useMutation({
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
  const kerf = program.found.findings.find(
    (f) => f.contour === contour && (f.code === 'no_kerf_compensation' || f.code === 'kerf_wrong_side'),
  );
  const across = round ? x : y;
  const text = (mm: number | null | undefined) => (mm ? showThickness(mm, units).text : '');
  return (
    <div className={styles.drawnSize}>
      <QuantityField
        label={round ? 'Drawn diameter' : 'Drawn size, X'}
        quantity="length"
        unit={units.length_unit}
        initial={text(known?.x_mm)}
        onRead={setX}
      />
      {!round && (
        <QuantityField
          label="Drawn size, Y"
          quantity="length"
          unit={units.length_unit}
          initial={text(known?.y_mm)}
          onRead={setY}
        />
      )}
      <Button
        variant="outlined"
        disabled={x === null || across === null || save.isPending}
        onClick={() => x !== null && across !== null && save.mutate({ x_mm: x, y_mm: across })}
      >
        Hold it against that
      </Button>
      {known && <Button onClick={() => save.mutate(null)}>Forget the size</Button>}
      {known && !save.isPending && (
        <p role="status">
          {kerf ? kerf.why : 'Half a kerf lies in the scrap, as it should at that size.'}
        </p>
      )}
      {save.isError && <Notice kind="refusal">{refusalText(save.error)}</Notice>}
    </div>
  );
}
