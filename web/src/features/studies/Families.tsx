import { Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { CapabilityAnswer } from '../../api/client';
import { CAPABILITY } from '../../words/capability';
import { figure } from '../../words/numbers';
import { familyName } from '../../words/studies';

/** All families that hold the values, the best first. */
export function Families({ answer: { fits, capability } }: { answer: CapabilityAnswer }) {
  return (
    <Table size="small" sx={{ width: 'auto' }}>
      <caption style={{ captionSide: 'top', padding: '0 0 4px' }}>
        <Typography variant="h3">{CAPABILITY.families}</Typography>
      </caption>
      <TableHead>
        <TableRow>
          <TableCell>{CAPABILITY.family}</TableCell>
          <TableCell align="right">{CAPABILITY.aic}</TableCell>
          <TableCell align="right">{CAPABILITY.a2}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {fits.map((fit) => (
          <TableRow key={fit.family} selected={fit.family === capability.distribution.family}>
            <TableCell component="th" scope="row">
              {familyName(fit.family)}
              {fit.family === capability.distribution.family && ` (${CAPABILITY.chosen})`}
            </TableCell>
            <TableCell align="right">{figure(fit.aic, 1)}</TableCell>
            <TableCell align="right">{figure(fit.a2, 2)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
