import { Box, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import type { Histogram } from '../../api/client';
import { CAPABILITY } from '../../words/capability';
import { figure } from '../../words/numbers';

/** The bars of a histogram in figures. */
export function BarsTable({
  histogram: { edges, counts },
  shares,
  decimals,
  label,
}: {
  histogram: Histogram;
  shares: readonly number[];
  decimals: number;
  label: string;
}) {
  return (
    <Box sx={{ maxHeight: 320, overflow: 'auto', mt: 1 }} tabIndex={0} role="group" aria-label={label}>
      <Table size="small" sx={{ width: 'auto' }}>
        <TableHead>
          <TableRow>
            {[CAPABILITY.from, CAPABILITY.to, CAPABILITY.count, CAPABILITY.share].map((name) => (
              <TableCell key={name} align="right">
                {name}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {counts.map((count, i) => (
            <TableRow key={edges[i]}>
              <TableCell align="right">{figure(edges[i], decimals + 1)}</TableCell>
              <TableCell align="right">{figure(edges[i + 1], decimals + 1)}</TableCell>
              <TableCell align="right">{count}</TableCell>
              <TableCell align="right">{figure(100 * (shares[i] ?? 0), 1)} %</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}
