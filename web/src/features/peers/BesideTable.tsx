import { Box, Link, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { LevelBeside, MonthBeside } from '../../api/client';
import { figure } from '../../words/numbers';
import { comparedIn, DISTANCE, lotsOf, monthName, PEERS } from '../../words/peers';

/** Level by level, month by month: own figures, the peers', and how both compare. The newest month comes first. */
export function BesideTable({
  group,
  analyte,
  levels,
}: {
  group: string;
  analyte: string;
  levels: readonly LevelBeside[];
}) {
  const rows = levels.flatMap((level) =>
    [...level.lots]
      .reverse()
      .flatMap((lot) => [...lot.months].reverse().map((month) => ({ level, lots: lotsOf(lot), month }))),
  );
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-label={PEERS.table(analyte)}>
      <Table
        size="small"
        aria-label={PEERS.table(analyte)}
        sx={{
          '& td, & th': { fontVariantNumeric: 'tabular-nums', whiteSpace: 'nowrap', px: 1 },
          '& .number': { textAlign: 'right' },
          '& .begins': { borderLeft: 1, borderLeftColor: 'divider', pl: 1.5 },
        }}
      >
        <TableHead>
          <TableRow>
            <TableCell rowSpan={2}>{PEERS.level}</TableCell>
            <TableCell rowSpan={2}>{PEERS.month}</TableCell>
            <TableCell rowSpan={2}>{PEERS.lots}</TableCell>
            <TableCell colSpan={4} scope="colgroup" className="begins">
              {PEERS.own}
            </TableCell>
            <TableCell colSpan={4} scope="colgroup" className="begins">
              {PEERS.peers}
            </TableCell>
            <TableCell colSpan={4} scope="colgroup" className="begins">
              {PEERS.beside}
            </TableCell>
          </TableRow>
          <TableRow>
            <Names of={PEERS.columns} />
            <Names of={PEERS.peerColumns} />
            <Names of={PEERS.besideColumns} />
            <TableCell>{PEERS.distance}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map(({ level, lots, month }) => (
            <TableRow key={`${level.characteristic} ${lots} ${month.month}`}>
              <TableCell component="th" scope="row">
                <Link component={RouterLink} to={`/charts/${level.characteristic}`}>
                  {level.level}
                </Link>{' '}
                <Box component="span" sx={{ color: 'text.secondary' }}>
                  {level.unit}
                </Box>
              </TableCell>
              <TableCell>{monthName(month.month)}</TableCell>
              <TableCell>{lots}</TableCell>
              <TableCell className="number begins">
                <Link
                  component={RouterLink}
                  to={`/lab/peers/${group}/given?level=${level.characteristic}`}
                  aria-label={PEERS.results(level.level, month.own.n)}
                >
                  {month.own.n}
                </Link>
              </TableCell>
              <Figures of={ownFigures(month, level.decimals)} goOn />
              <Figures of={peerFigures(month, level.decimals)} />
              <Figures of={comparedIn(month)} />
              <TableCell>{month.beside == null ? '' : DISTANCE[month.beside.distance]}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

const Names = ({ of }: { of: readonly string[] }) =>
  of.map((name, i) => (
    <TableCell key={name} className={i === 0 ? 'number begins' : 'number'}>
      {name}
    </TableCell>
  ));

const Figures = ({ of, goOn = false }: { of: readonly string[]; goOn?: boolean }) =>
  of.map((text, i) => (
    <TableCell key={i} className={i === 0 && !goOn ? 'number begins' : 'number'}>
      {text}
    </TableCell>
  ));

function ownFigures({ own }: MonthBeside, decimals: number): string[] {
  const cv = own.cv == null ? '–' : `${figure(own.cv, 1)} %`;
  return [figure(own.mean, decimals + 1), figure(own.sd, decimals + 1), cv];
}

function peerFigures({ told }: MonthBeside, decimals: number): string[] {
  if (told == null) return ['–', '–', '–', '–'];
  const labs = told.laboratories == null ? '–' : String(told.laboratories);
  return [labs, String(told.n), figure(told.mean, decimals + 1), figure(told.sd, decimals + 1)];
}
