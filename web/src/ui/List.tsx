import { DataGrid, type GridColDef, type GridValidRowModel } from '@mui/x-data-grid';
import { nonce } from './nonce';

/** A long list: rule lines like everywhere else, rows as high as their text. */
export function List<Row extends GridValidRowModel>({
  label,
  rows,
  columns,
  rowId,
  onChoose,
}: {
  label: string;
  rows: readonly Row[];
  columns: readonly GridColDef<Row>[];
  rowId: (row: Row) => string;
  /** Told which rows are chosen, where some can be. */
  onChoose?: ((chosen: readonly string[]) => void) | undefined;
}) {
  return (
    <DataGrid
      aria-label={label}
      rows={rows}
      columns={columns}
      getRowId={rowId}
      getRowHeight={() => 'auto'}
      disableRowSelectionOnClick
      checkboxSelection={onChoose !== undefined}
      disableRowSelectionExcludeModel
      {...(onChoose && { onRowSelectionModelChange: ({ ids }) => onChoose([...ids].map(String)) })}
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
