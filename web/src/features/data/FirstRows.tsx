import { Box, Paper, Typography } from '@mui/material';
import type { HandedRow } from '../../api/client';
import { HAND_OUT } from '../../words/data';

/** Rows that are shown. */
const SHOWN = 40;

/** The first rows of a table, as they stand in it. */
export function FirstRows({ rows }: { rows: readonly HandedRow[] }) {
  const columns = Object.keys(rows[0] ?? {});
  return (
    <Paper component="section" aria-labelledby="first" sx={{ p: 2, minWidth: 0 }}>
      <Typography id="first" variant="h2" sx={{ mb: 1 }}>
        {HAND_OUT.first}
      </Typography>
      <Box
        tabIndex={0}
        role="group"
        aria-labelledby="first"
        sx={{
          overflow: 'auto',
          maxHeight: 520,
          '& td, & th': { px: 1, py: 0.25, whiteSpace: 'pre', textAlign: 'left' },
        }}
      >
        <Box component="table" sx={{ borderCollapse: 'collapse', fontVariantNumeric: 'tabular-nums' }}>
          <Box component="thead" sx={{ position: 'sticky', top: 0, bgcolor: 'background.paper' }}>
            <tr>
              {columns.map((column) => (
                <th key={column} scope="col">
                  {column}
                </th>
              ))}
            </tr>
          </Box>
          <tbody>
            {rows.slice(0, SHOWN).map((row, number) => (
              <tr key={number}>
                {columns.map((column) => (
                  <td key={column}>{row[column]}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
    </Paper>
  );
}
