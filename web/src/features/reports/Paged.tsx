import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import type { Report } from '../../api/client';
import { askedFor, lineCount, madeBy, REPORT_COLUMNS, REPORTS } from '../../words/reports';
import { EpisodeCells, PointCells, ReviewCells } from './Cells';

/** The report as a table, whose head stands on every printed page: what was asked for, by whom, when, and the seal. */
export function Paged({ report }: { report: Report }) {
  const { head, lines } = report;
  const columns = REPORT_COLUMNS[head.report];
  return (
    <Paper sx={{ overflowX: 'auto', '@media print': { border: 0, overflow: 'visible' } }}>
      <Table size="small" sx={{ '& td, & th': { verticalAlign: 'top' } }}>
        <TableHead sx={{ '@media print': { display: 'table-header-group' } }}>
          <TableRow>
            <TableCell colSpan={columns.length} sx={{ borderBottom: 0, pb: 0.5 }}>
              <Typography sx={{ fontWeight: 600 }}>{askedFor(head)}</Typography>
              <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
                {madeBy(head)}
              </Typography>
            </TableCell>
          </TableRow>
          <TableRow>
            {columns.map((column) => (
              <TableCell key={column} sx={{ fontWeight: 600 }}>
                {column}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody sx={{ '& tr': { breakInside: 'avoid' }, '& td': { borderTop: 1, borderColor: 'divider' } }}>
          {lineCount(report) === 0 && (
            <TableRow>
              <TableCell colSpan={columns.length}>{REPORTS.nothing}</TableCell>
            </TableRow>
          )}
          {'episodes' in lines &&
            lines.episodes.map((line) => (
              <TableRow key={line.id}>
                <EpisodeCells line={line} />
              </TableRow>
            ))}
          {'points' in lines &&
            lines.points.map((line) => (
              <TableRow key={`${line.characteristic} ${line.number}`}>
                <PointCells line={line} />
              </TableRow>
            ))}
          {'reviews' in lines &&
            lines.reviews.map((line) => (
              <TableRow key={`${line.at} ${line.episode.id} ${line.person}`}>
                <ReviewCells line={line} />
              </TableRow>
            ))}
        </TableBody>
      </Table>
      <Box sx={{ height: 8, displayPrint: 'none' }} />
    </Paper>
  );
}
