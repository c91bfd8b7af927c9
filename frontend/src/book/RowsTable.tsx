import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import { useMemo, useState } from 'react';
import type { BookRow } from '../kit/client';
import { showLength, showSpeed, showThickness, type ShopUnits } from '../kit/units';
import styles from './book.module.css';

const AT_ONCE = 120;

interface Column {
  field: keyof BookRow;
  name: string;
  number: boolean;
  show: (row: BookRow, units: ShopUnits) => string;
}

const column = (field: keyof BookRow, name: string, number: boolean, show: Column['show']): Column => ({
  field,
  name,
  number,
  show,
});

const COLUMNS: Column[] = [
  column('metal', 'Metal', false, (r) => r.metal.replace('_', ' ')),
  column('thickness_mm', 'Thickness', true, (r, u) => showThickness(r.thickness_mm, u).text),
  column('torch_set', 'Torch set', false, (r) => r.torch_set),
  column('speed_mm_min', 'Speed', true, (r, u) => showSpeed(r.speed_mm_min, u).text),
  column('arc_voltage_v', 'Volts', true, (r) => r.arc_voltage_v?.toFixed(1) ?? 'unknown'),
  column('cut_height_mm', 'Cut height', true, (r, u) => showLength(r.cut_height_mm, u).text),
  column('pierce_height_mm', 'Pierce height', true, (r, u) => showLength(r.pierce_height_mm, u).text),
  column('pierce_delay_s', 'Delay', true, (r) => r.pierce_delay_s.toFixed(2)),
  column('kerf_mm', 'Kerf', true, (r, u) => showLength(r.kerf_mm, u).text),
  column('source', 'Where from', false, (r) => r.source),
];

function compared(a: BookRow, b: BookRow, field: keyof BookRow): number {
  const [x, y] = [a[field], b[field]];
  if (typeof x === 'number' && typeof y === 'number') return x - y;
  return String(x ?? '').localeCompare(String(y ?? ''));
}

/** The rows in force: dense, sorted by any column, a hundred or so at a time. */
export function RowsTable({ rows, units }: { rows: BookRow[]; units: ShopUnits }) {
  const [by, setBy] = useState<keyof BookRow>('metal');
  const [falling, setFalling] = useState(false);
  const [most, setMost] = useState(AT_ONCE);
  const sorted = useMemo(
    () => [...rows].sort((a, b) => (falling ? -1 : 1) * compared(a, b, by)),
    [rows, by, falling],
  );
  return (
    <div className={styles.rows}>
      <Table size="small" stickyHeader aria-label="Starting rows">
        <TableHead>
          <TableRow>
            {COLUMNS.map((c) => (
              <TableCell
                key={c.field}
                align={c.number ? 'right' : 'left'}
                sortDirection={by === c.field ? (falling ? 'desc' : 'asc') : false}
              >
                <TableSortLabel
                  active={by === c.field}
                  direction={by === c.field && falling ? 'desc' : 'asc'}
                  onClick={() => {
                    setFalling(by === c.field && !falling);
                    setBy(c.field);
                  }}
                >
                  {c.name}
                </TableSortLabel>
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {sorted.slice(0, most).map((row) => (
            <TableRow key={row.id}>
              {COLUMNS.map((c) => (
                <TableCell
                  key={c.field}
                  align={c.number ? 'right' : 'left'}
                  className={c.number ? 'number' : undefined}
                >
                  {c.show(row, units)}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {sorted.length > most && (
        <Button variant="text" onClick={() => setMost(most + 5 * AT_ONCE)}>
          Show more ({sorted.length - most} left)
        </Button>
      )}
    </div>
  );
}
