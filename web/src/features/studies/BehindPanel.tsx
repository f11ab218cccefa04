import {
  Box,
  Button,
  Link,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { Behind } from '../../api/client';
import { queries } from '../../api/queries';
import { Loaded } from '../../ui/States';
import { figure } from '../../words/numbers';
import { BEHIND, STUDIES } from '../../words/studies';
import { when } from '../../words/time';

/** The samples behind a figure, each with the way to its point on the chart. */
export function BehindPanel({
  what,
  asked,
  decimals,
  onClose,
}: {
  what: string;
  asked: Behind;
  decimals: number;
  onClose: () => void;
}) {
  const query = useQuery(queries.studyBehind(asked));
  return (
    <Paper component="section" aria-label={what} sx={{ p: 2 }}>
      <Loaded query={query} what={what}>
        {({ count, samples }) => (
          <>
            <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1 }}>
              <Typography variant="h2" sx={{ flex: 1 }} aria-live="polite">
                {BEHIND.title(what, count)}
              </Typography>
              <Button color="inherit" onClick={onClose}>
                {STUDIES.close}
              </Button>
            </Stack>
            {samples.length > 0 && (
              <Box sx={{ maxHeight: 360, overflow: 'auto' }} tabIndex={0} role="group" aria-label={what}>
                <Table size="small" stickyHeader>
                  <TableHead>
                    <TableRow>
                      <TableCell>{BEHIND.number}</TableCell>
                      <TableCell>{BEHIND.taken}</TableCell>
                      <TableCell>{BEHIND.readings}</TableCell>
                    </TableRow>
                  </TableHead>
                  <TableBody>
                    {samples.map((sample) => (
                      <TableRow key={sample.number}>
                        <TableCell>
                          <Link
                            component={RouterLink}
                            to={`/charts/${asked.of.characteristic}?last=all&sample=${sample.number}`}
                          >
                            {sample.number}
                          </Link>
                        </TableCell>
                        <TableCell>{when(sample.taken_at)}</TableCell>
                        <TableCell>
                          {sample.inspected == null
                            ? sample.values.map((value) => figure(value, decimals)).join('   ')
                            : BEHIND.of(sample.values[0] ?? 0, sample.inspected)}
                          {sample.set_aside && ` (${BEHIND.aside})`}
                        </TableCell>
                      </TableRow>
                    ))}
                  </TableBody>
                </Table>
              </Box>
            )}
            {count > samples.length && (
              <Typography color="text.secondary" sx={{ mt: 1 }}>
                {BEHIND.more(samples.length)}
              </Typography>
            )}
          </>
        )}
      </Loaded>
    </Paper>
  );
}
