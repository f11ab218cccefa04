import {
  Box,
  Button,
  Link,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { answered, api, type GivenView } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { LAB } from '../../words/lab';
import { figure } from '../../words/numbers';
import { GIVEN, GIVEN_STATES, lotsOf } from '../../words/peers';
import { RUN_ENTRY } from '../../words/run';
import { onDate, when } from '../../words/time';

/** Results, the newest first, each with where it stands; one of them may be taken back. */
export function GivenTable({
  group,
  results,
  mayWithdraw,
}: {
  group: string;
  results: readonly GivenView[];
  mayWithdraw: boolean;
}) {
  const [leaving, setLeaving] = useState<string | null>(null);
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-label={GIVEN.table}>
      <Table size="small" aria-label={GIVEN.table} sx={{ '& td, & th': { fontVariantNumeric: 'tabular-nums' } }}>
        <TableHead>
          <TableRow>
            {GIVEN.columns.map((name) => (
              <TableCell key={name}>{name}</TableCell>
            ))}
            {mayWithdraw && <TableCell>{GIVEN.further}</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {results.map((result) => {
            const what = `${RUN_ENTRY.level(result.analyte, result.level)}, ${when(result.taken_at)}`;
            return (
              <TableRow key={result.id} sx={{ color: result.withdrawn_at == null ? undefined : 'text.secondary' }}>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{onDate(result.taken_at)}</TableCell>
                <TableCell>
                  <Link component={RouterLink} to={`/charts/${result.characteristic}?sample=${result.number}`}>
                    {RUN_ENTRY.level(result.analyte, result.level)}
                  </Link>
                </TableCell>
                <TableCell sx={{ whiteSpace: 'nowrap', textAlign: 'right' }}>
                  {figure(result.value, result.decimals)} {result.unit}
                </TableCell>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{lotsOf(result)}</TableCell>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>
                  <Link component={RouterLink} to={`/lab/runs/${result.run}`}>
                    {LAB.run(result.run_number)}
                  </Link>
                </TableCell>
                <TableCell sx={{ minWidth: 200 }}>
                  <Standing result={result} />
                </TableCell>
                {mayWithdraw && (
                  <TableCell sx={{ minWidth: leaving === result.id ? 320 : undefined }}>
                    {result.withdrawn_at == null && leaving !== result.id && (
                      <Button
                        size="small"
                        color="inherit"
                        aria-label={GIVEN.withdrawOf(what)}
                        onClick={() => setLeaving(result.id)}
                      >
                        {GIVEN.withdraw}
                      </Button>
                    )}
                    {leaving === result.id && (
                      <Withdraw group={group} result={result.id} what={what} onDone={() => setLeaving(null)} />
                    )}
                  </TableCell>
                )}
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </Box>
  );
}

/** Where a result stands, with what else there is to know of it. */
function Standing({ result }: { result: GivenView }) {
  const said = [
    GIVEN_STATES[result.state],
    ...(result.state === 'given' && result.given_at != null ? [when(result.given_at)] : []),
    ...(result.revision > 1 && result.withdrawn_at == null ? [GIVEN.revision(result.revision)] : []),
    ...(result.changed_since ? [GIVEN.changedSince] : []),
  ];
  return (
    <>
      {said.join(', ')}
      {result.failed != null && result.state !== 'given' && (
        <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
          {result.failed}
        </Typography>
      )}
      {result.withdrawn_by != null && (
        <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
          {[result.withdrawn_by, result.withdrawn_because].filter((part) => part != null).join(': ')}
        </Typography>
      )}
    </>
  );
}

function Withdraw({
  group,
  result,
  what,
  onDone,
}: {
  group: string;
  result: string;
  what: string;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const [because, setBecause] = useState('');
  const withdraw = useMutation({
    mutationFn: async () => {
      const params = { path: { id: group, result } };
      await answered(api.POST('/api/peers/{id}/results/{result}/withdrawal', { params, body: { because } }));
      await touch(client, { kind: 'peers', group });
    },
    onSuccess: onDone,
  });
  return (
    <Stack
      component="form"
      aria-label={GIVEN.withdrawOf(what)}
      spacing={1}
      onSubmit={(event) => {
        event.preventDefault();
        withdraw.mutate();
      }}
    >
      <TextField
        size="small"
        autoFocus
        label={GIVEN.because}
        value={because}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(event) => setBecause(event.target.value)}
      />
      <Failed why={withdraw.error} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" size="small" variant="contained" disabled={because.trim() === '' || withdraw.isPending}>
          {GIVEN.doWithdraw}
        </Button>
        <Button size="small" color="inherit" onClick={onDone}>
          {GIVEN.leave}
        </Button>
      </Stack>
    </Stack>
  );
}
