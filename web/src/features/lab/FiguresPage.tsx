import { Box, Link, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useParams } from 'react-router';
import type { LevelFigures } from '../../api/client';
import { Empty, Loaded } from '../../ui/States';
import { figure } from '../../words/numbers';
import { useMay } from '../../session/session';
import { AssignLevel } from './AssignLevel';
import { queries } from '../../api/queries';

/** Figures of a bench: per level and reagent lot, of the current period and of all results. */
export default function FiguresPage() {
  const { station = '' } = useParams();
  const benches = useQuery(queries.lab);
  const query = useQuery(queries.figures(station));
  return (
    <Box sx={{ maxWidth: 1180, mx: 'auto' }}>
      <Typography variant="h1">Figures by level and reagent lot</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        <Link component={RouterLink} to={`/lab?bench=${station}`}>{benches.data?.find((b) => b.station === station)?.name ?? 'The bench'}</Link>
        {' · '}the current period begins where mean and sd were last assigned; rejected results are left out of the figures of all time
      </Typography>
      <Loaded query={query} what="the figures">
        {(rows) => (rows.length === 0 ? <Empty>No run has been measured here yet.</Empty> : <Rows rows={rows} />)}
      </Loaded>
    </Box>
  );
}

function Rows({ rows }: { rows: LevelFigures[] }) {
  const mayAssign = useMay('set_up');
  const cells = ({ n, mean, sd, cv }: LevelFigures['current'], decimals: number) => [String(n), figure(mean, decimals), figure(sd, decimals + 1), cv == null ? '–' : `${figure(cv, 1)} %`];
  return (
    <Paper sx={{ overflowX: 'auto' }}>
      <Table size="small" aria-label="Figures" sx={{ '& td, & th': { fontVariantNumeric: 'tabular-nums', whiteSpace: 'nowrap' }, '& .number': { textAlign: 'right' } }}>
        <TableHead>
          <TableRow>
            <TableCell rowSpan={2}>Level</TableCell>
            <TableCell rowSpan={2}>Reagent lot</TableCell>
            <TableCell colSpan={4} scope="colgroup">Current period</TableCell>
            <TableCell colSpan={5} scope="colgroup">Of all time</TableCell>
          </TableRow>
          <TableRow>
            {['n', 'Mean', 'sd', 'CV', 'n', 'Mean', 'sd', 'CV', 'Left out'].map((name, i) => <TableCell key={i} className="number">{name}</TableCell>)}
            {mayAssign && <TableCell>Mean and sd</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row, place) => (
            <TableRow key={`${row.characteristic} ${row.reagent_lot ?? ''}`}>
              <TableCell component="th" scope="row"><Link component={RouterLink} to={`/charts/${row.characteristic}`}>{row.analyte}, {row.level}</Link> <Box component="span" sx={{ color: 'text.secondary' }}>{row.unit}</Box></TableCell>
              <TableCell>{row.reagent_lot ?? '–'}</TableCell>
              {[...cells(row.current, row.decimals), ...cells(row.cumulative, row.decimals), String(row.left_out)].map((text, i) => <TableCell key={i} className="number">{text}</TableCell>)}
              {mayAssign && <TableCell>{rows[place - 1]?.characteristic !== row.characteristic && <AssignLevel row={row} />}</TableCell>}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Paper>
  );
}
