import { Box, Link, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useParams } from 'react-router';
import type { LevelFigures } from '../../api/client';
import { queries } from '../../api/queries';
import { Empty, Loaded } from '../../ui/States';
import { FIGURES } from '../../words/levels';
import { figure } from '../../words/numbers';
import { RUN_ENTRY } from '../../words/run';
import { useMay } from '../../session/session';
import { AssignLevel } from './AssignLevel';
import { ControlLot } from './ControlLot';

/** Figures of a bench: per level and reagent lot, of the current period and of all results. */
export default function FiguresPage() {
  const { station = '' } = useParams();
  const benches = useQuery(queries.lab);
  const query = useQuery(queries.figures(station));
  return (
    <Box sx={{ maxWidth: 1180, mx: 'auto' }}>
      <Typography variant="h1">{FIGURES.title}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        <Link component={RouterLink} to={`/lab?bench=${station}`}>
          {benches.data?.find((b) => b.station === station)?.name ?? FIGURES.bench}
        </Link>
        {' · '}
        {FIGURES.about}
      </Typography>
      <Loaded query={query} what={FIGURES.figures}>
        {(rows) => (rows.length === 0 ? <Empty>{FIGURES.nothing}</Empty> : <Rows rows={rows} station={station} />)}
      </Loaded>
    </Box>
  );
}

function Rows({ rows, station }: { rows: LevelFigures[]; station: string }) {
  const mayAssign = useMay('set_up');
  const cells = ({ n, mean, sd, cv }: LevelFigures['current'], decimals: number) => [
    String(n),
    figure(mean, decimals),
    figure(sd, decimals + 1),
    cv == null ? '–' : `${figure(cv, 1)} %`,
  ];
  return (
    <Paper sx={{ overflowX: 'auto' }}>
      <Table
        size="small"
        aria-label={FIGURES.table}
        sx={{
          '& td, & th': { fontVariantNumeric: 'tabular-nums', whiteSpace: 'nowrap' },
          '& .number': { textAlign: 'right' },
        }}
      >
        <TableHead>
          <TableRow>
            <TableCell rowSpan={2}>{FIGURES.level}</TableCell>
            <TableCell rowSpan={2}>{FIGURES.reagentLot}</TableCell>
            <TableCell colSpan={4} scope="colgroup">
              {FIGURES.current}
            </TableCell>
            <TableCell colSpan={5} scope="colgroup">
              {FIGURES.cumulative}
            </TableCell>
          </TableRow>
          <TableRow>
            {FIGURES.columns.map((name, i) => (
              <TableCell key={i} className="number">
                {name}
              </TableCell>
            ))}
            {mayAssign && <TableCell>{FIGURES.meanAndSd}</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row, place) => (
            <TableRow key={`${row.characteristic} ${row.reagent_lot ?? ''}`}>
              <TableCell component="th" scope="row">
                <Link component={RouterLink} to={`/charts/${row.characteristic}`}>
                  {RUN_ENTRY.level(row.analyte, row.level)}
                </Link>{' '}
                <Box component="span" sx={{ color: 'text.secondary' }}>
                  {row.unit}
                </Box>
              </TableCell>
              <TableCell>{row.reagent_lot ?? '–'}</TableCell>
              {[...cells(row.current, row.decimals), ...cells(row.cumulative, row.decimals), String(row.left_out)].map(
                (text, i) => (
                  <TableCell key={i} className="number">
                    {text}
                  </TableCell>
                ),
              )}
              {mayAssign && (
                <TableCell>
                  {rows[place - 1]?.characteristic !== row.characteristic && (
                    <>
                      {row.beside == null && <AssignLevel row={row} />}
                      <ControlLot
                        row={row}
                        station={station}
                        beside={rows.some((other) => other.beside === row.characteristic)}
                      />
                    </>
                  )}
                </TableCell>
              )}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Paper>
  );
}
