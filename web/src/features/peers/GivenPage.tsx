import { Box, Button, Link, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link as RouterLink, useParams } from 'react-router';
import { answered, api, type PeerGroupView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { GIVEN, givingFares, PEERS } from '../../words/peers';
import { RUN_ENTRY } from '../../words/run';
import { ByHand } from './ByHand';
import { GivenTable } from './GivenTable';

/** What was given to a peer group, and what still waits. */
export default function GivenPage() {
  const { group: id = '' } = useParams();
  const groups = useQuery(queries.peers);
  return (
    <Box sx={{ maxWidth: 1120, mx: 'auto' }}>
      <Loaded query={groups} what={PEERS.what}>
        {(all) => {
          const group = all.find((one) => one.id === id);
          return group === undefined ? <Empty>{PEERS.none}</Empty> : <Given group={group} />;
        }}
      </Loaded>
    </Box>
  );
}

function Given({ group }: { group: PeerGroupView }) {
  const client = useQueryClient();
  const { params, put } = useAddress();
  const unsettled = params.get('unsettled') === 'true';
  const level = params.get('level') ?? '';
  const results = useInfiniteQuery(
    queries.peerResults(group.id, { unsettled, ...(level !== '' && { characteristic: level }) }),
  );
  const comparison = useQuery(queries.peerComparison(group.id));
  const may = useMay('review_signal');
  const again = useMutation({
    mutationFn: async () => {
      await answered(api.POST('/api/peers/{id}/send-again', { params: { path: { id: group.id } } }));
      await touch(client, { kind: 'peers', group: group.id });
    },
  });
  const narrow = (name: string, value: string) => put({ [name]: value }, true);
  const levels = (comparison.data ?? []).map(
    (one) => [one.characteristic, RUN_ENTRY.level(one.analyte, one.level)] as const,
  );
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'center', columnGap: 2, rowGap: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1, minWidth: 200 }}>
          {GIVEN.title}
        </Typography>
        <Pick
          label={GIVEN.level}
          value={level}
          options={[['', GIVEN.anyLevel], ...levels]}
          onPick={(value) => narrow('level', value)}
        />
        <ToggleButtonGroup
          exclusive
          aria-label={GIVEN.which}
          value={unsettled}
          onChange={(_, only: boolean | null) => only !== null && narrow('unsettled', only ? 'true' : '')}
        >
          <ToggleButton value={false}>{GIVEN.all}</ToggleButton>
          <ToggleButton value={true}>{GIVEN.unsettled}</ToggleButton>
        </ToggleButtonGroup>
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1, overflowWrap: 'anywhere' }}>
        <Link component={RouterLink} to={`/lab/peers/${group.id}`}>
          {group.name}
        </Link>{' '}
        · {group.laboratory}
      </Typography>
      {group.failed != null && (group.waiting > 0 || group.not_taken > 0) ? (
        <Stack direction="row" sx={{ alignItems: 'center', gap: 2, flexWrap: 'wrap', mb: 1 }}>
          <Notice kind="caution">{givingFares(group)}</Notice>
          {may && (
            <Button variant="outlined" color="inherit" disabled={again.isPending} onClick={() => again.mutate()}>
              {GIVEN.sendAgain}
            </Button>
          )}
        </Stack>
      ) : (
        <Typography sx={{ mb: 1 }}>{givingFares({ ...group, failed: null })}</Typography>
      )}
      <Failed why={again.error} />
      <Loaded query={results} what={GIVEN.what}>
        {({ pages }) => {
          const all = pages.flat();
          if (all.length === 0) return <Empty>{unsettled ? GIVEN.noneUnsettled : GIVEN.none}</Empty>;
          return (
            <Paper sx={{ mb: 2 }}>
              <GivenTable group={group.id} results={all} mayWithdraw={may} />
              {results.hasNextPage && (
                <Button
                  color="inherit"
                  disabled={results.isFetchingNextPage}
                  onClick={() => void results.fetchNextPage()}
                >
                  {GIVEN.more}
                </Button>
              )}
            </Paper>
          );
        }}
      </Loaded>
      <ByHand group={group} />
    </>
  );
}
