import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { CapabilityAnswer } from '../../api/client';
import { figure } from '../../words/numbers';
import { CAPABILITY, million } from '../../words/capability';

interface Row {
  name: string;
  value: number | null | undefined;
  interval?: number[] | null | undefined;
}

/** Indices within and overall with their intervals, and what lies outside of a million. */
export function IndexTable({
  answer,
  onOutside,
}: {
  answer: CapabilityAnswer;
  onOutside: (side: 'below' | 'above') => void;
}) {
  const { capability: c, about, specification } = answer;
  const sigma = (value: number | null | undefined) => figure(value, about.decimals + 2);
  const within: Row[] = [
    { name: 'Cp', value: c.cp, interval: c.intervals.cp },
    { name: 'Cpl', value: c.cpl },
    { name: 'Cpu', value: c.cpu },
    { name: 'Cpk', value: c.cpk, interval: c.intervals.cpk },
  ];
  const overall: Row[] = [
    { name: 'Pp', value: c.pp, interval: c.intervals.pp },
    { name: 'Ppl', value: c.ppl },
    { name: 'Ppu', value: c.ppu },
    { name: 'Ppk', value: c.ppk, interval: c.intervals.ppk },
    ...(c.cpm == null ? [] : [{ name: 'Cpm', value: c.cpm }]),
  ];
  const sides = [
    ['below', specification.lsl],
    ['above', specification.usl],
  ] as const;
  return (
    <Box sx={{ display: 'grid', gap: 2.5 }}>
      <Indices caption={CAPABILITY.withinSays(sigma(c.sigma_within))} rows={within} />
      <Indices caption={CAPABILITY.overallSays(sigma(c.sigma_overall))} rows={overall} />
      <Table size="small" sx={{ '& td, & th': { px: 0.75 }, '& td, & tbody th': { whiteSpace: 'nowrap' } }}>
        <caption style={{ captionSide: 'top', padding: '0 0 4px' }}>
          <Typography variant="h3">{CAPABILITY.outside}</Typography>
        </caption>
        <TableHead>
          <TableRow>
            <TableCell component="td" />
            {Object.values(CAPABILITY.ppm).map((name) => (
              <TableCell key={name} align="right">
                {name}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {sides.map(
            ([side, limit]) =>
              limit != null && (
                <TableRow key={side}>
                  <TableCell component="th" scope="row">
                    {CAPABILITY.rows[side]}
                  </TableCell>
                  <TableCell align="right" padding="none">
                    <Button size="small" onClick={() => onOutside(side)}>
                      {million(c.ppm.observed[side])}
                    </Button>
                  </TableCell>
                  <TableCell align="right">{million(c.ppm.within[side])}</TableCell>
                  <TableCell align="right">{million(c.ppm.overall[side])}</TableCell>
                </TableRow>
              ),
          )}
        </TableBody>
      </Table>
    </Box>
  );
}

function Indices({ caption, rows }: { caption: string; rows: readonly Row[] }) {
  return (
    <Table size="small" sx={{ '& td, & th': { px: 0.75 }, '& td, & tbody th': { whiteSpace: 'nowrap' } }}>
      <caption style={{ captionSide: 'top', padding: '0 0 4px' }}>
        <Typography variant="h3">{caption}</Typography>
      </caption>
      <TableHead>
        <TableRow>
          {Object.values(CAPABILITY.columns).map((name, i) => (
            <TableCell key={name} align={i === 0 ? 'left' : 'right'}>
              {name}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows
          .filter(({ value }) => value != null)
          .map(({ name, value, interval }) => (
            <TableRow key={name}>
              <TableCell component="th" scope="row">
                {name}
              </TableCell>
              <TableCell align="right">
                <strong>{figure(value, 2)}</strong>
              </TableCell>
              <TableCell align="right">{interval ? interval.map((end) => figure(end, 2)).join(' … ') : ''}</TableCell>
            </TableRow>
          ))}
      </TableBody>
    </Table>
  );
}
