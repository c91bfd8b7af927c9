import { DataGrid, type GridColDef } from '@mui/x-data-grid';
import type { BookRow } from '../kit/client';
import { showLength, showSpeed, showThickness, type ShopUnits } from '../kit/units';
import styles from './book.module.css';

const metalName = (name: string): string => name.replace('_', ' ');

/** The rows in force: dense, sortable, keyboard first. */
export function RowsGrid({ rows, units }: { rows: BookRow[]; units: ShopUnits }) {
  const number = { type: 'number', flex: 1, minWidth: 78 } as const;
  const lengthOf = (v: number) => showLength(v, units).text;
  const columns: GridColDef<BookRow>[] = [
    { field: 'metal', headerName: 'Metal', flex: 1.2, minWidth: 120, valueFormatter: metalName },
    {
      field: 'thickness_mm',
      headerName: 'Thickness',
      ...number,
      minWidth: 104,
      valueFormatter: (v: number) => showThickness(v, units).text,
    },
    { field: 'torch_set', headerName: 'Torch set', flex: 1.3, minWidth: 130 },
    {
      field: 'speed_mm_min',
      headerName: 'Speed',
      ...number,
      valueFormatter: (v: number) => showSpeed(v, units).text,
    },
    {
      field: 'arc_voltage_v',
      headerName: 'Volts',
      ...number,
      valueFormatter: (v: number | null) => v?.toFixed(1) ?? 'unknown',
    },
    {
      field: 'cut_height_mm',
      headerName: 'Cut height',
      ...number,
      minWidth: 106,
      valueFormatter: lengthOf,
    },
    {
      field: 'pierce_height_mm',
      headerName: 'Pierce height',
      ...number,
      minWidth: 122,
      valueFormatter: lengthOf,
    },
    {
      field: 'pierce_delay_s',
      headerName: 'Delay',
      ...number,
      valueFormatter: (v: number) => v.toFixed(2),
    },
    { field: 'kerf_mm', headerName: 'Kerf', ...number, valueFormatter: lengthOf },
    { field: 'source', headerName: 'Where from', flex: 2, minWidth: 300 },
  ];
  return (
    <div className={styles.grid}>
      <DataGrid
        rows={rows}
        columns={columns}
        aria-label="Starting rows"
        rowHeight={48}
        columnHeaderHeight={48}
        disableRowSelectionOnClick
        hideFooter={rows.length <= 100}
        initialState={{ sorting: { sortModel: [{ field: 'metal', sort: 'asc' }] } }}
        sx={{
          border: 0,
          fontSize: 16,
          fontVariantNumeric: 'tabular-nums',
          '--DataGrid-containerBackground': 'var(--ground)',
          '& .MuiDataGrid-columnHeaderTitle': { fontWeight: 620, color: 'var(--ink)' },
          '& .MuiDataGrid-columnSeparator': { display: 'none' },
        }}
      />
    </div>
  );
}
