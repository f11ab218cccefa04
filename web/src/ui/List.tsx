import { DataGrid, type GridColDef, type GridValidRowModel } from '@mui/x-data-grid';
import { nonce } from './nonce';

/** A long list: rule lines like everywhere else, rows as high as their text. */
export function List<Row extends GridValidRowModel>({
  label,
  rows,
  columns,
  rowId,
}: {
  label: string;
  rows: readonly Row[];
  columns: readonly GridColDef<Row>[];
  rowId: (row: Row) => string;
}) {
  return (
    <DataGrid
      aria-label={label}
      rows={rows}
      columns={columns}
      getRowId={rowId}
      getRowHeight={() => 'auto'}
      disableRowSelectionOnClick
      initialState={{ pagination: { paginationModel: { pageSize: 25 } } }}
      pageSizeOptions={[25, 100]}
      nonce={nonce}
      sx={{
        bgcolor: 'background.paper',
        borderColor: 'divider',
        '& .MuiDataGrid-cell': {
          py: 1.25,
          whiteSpace: 'normal',
          lineHeight: 1.35,
          display: 'flex',
          alignItems: 'center',
        },
        '& .MuiDataGrid-columnHeaderTitle': { fontWeight: 600 },
      }}
    />
  );
}
