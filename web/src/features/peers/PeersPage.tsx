import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import { answered, api, type LevelBeside, type PeerGroupView } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { besideInWords, GIVEN, givingFares, PEERS } from '../../words/peers';
import { BesideTable } from './BesideTable';
import { SdiDrawing } from './SdiDrawing';

/** Own results beside those of a peer group. */
export default function PeersPage() {
  const { group: id } = useParams();
  const groups = useQuery(queries.peers);
  const maySetUp = useMay('set_up');
  return (
    <Box sx={{ maxWidth: 1240, mx: 'auto' }}>
      <Loaded query={groups} what={PEERS.what}>
        {(all) => {
          const group = all.find((one) => one.id === id) ?? all[0];
          if (group !== undefined) return <Group key={group.id} group={group} all={all} />;
          return (
            <>
              <Typography variant="h1">{PEERS.title}</Typography>
              <Empty>
                {PEERS.none}{' '}
                {maySetUp ? (
                  <Link component={RouterLink} to="/lab/peers/new">
                    {PEERS.add}
                  </Link>
                ) : (
                  PEERS.noneFor
                )}
              </Empty>
            </>
          );
        }}
      </Loaded>
    </Box>
  );
}

function Group({ group, all }: { group: PeerGroupView; all: readonly PeerGroupView[] }) {
  const navigate = useNavigate();
  const maySetUp = useMay('set_up');
  const mayAsk = useMay('review_signal');
  const comparison = useQuery(queries.peerComparison(group.id));
  const ask = useMutation({
    mutationFn: () => answered(api.POST('/api/peers/{id}/ask', { params: { path: { id: group.id } } })),
  });
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'center', columnGap: 2, rowGap: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1, minWidth: 240 }}>
          {PEERS.title}
        </Typography>
        {all.length > 1 && (
          <Pick
            label={PEERS.group}
            value={group.id}
            options={all.map(({ id, name }) => [id, name] as const)}
            onPick={(id) => void navigate(`/lab/peers/${id}`)}
          />
        )}
        <Button component={RouterLink} to={`/lab/peers/${group.id}/given`} variant="outlined" color="inherit">
          {PEERS.given}
        </Button>
        {mayAsk && group.url != null && group.active && (
          <Button color="inherit" disabled={ask.isPending} onClick={() => ask.mutate()}>
            {PEERS.ask}
          </Button>
        )}
        {maySetUp && (
          <>
            <Button component={RouterLink} to={`/lab/peers/${group.id}/set-up`} color="inherit">
              {PEERS.change}
            </Button>
            <Button component={RouterLink} to="/lab/peers/new" color="inherit">
              {PEERS.add}
            </Button>
          </>
        )}
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1, maxWidth: '80ch', overflowWrap: 'anywhere' }}>
        {group.name} · {group.laboratory}. {givingFares(group)} {PEERS.told(group.answered_at)}
      </Typography>
      {!group.active && <Notice kind="caution">{PEERS.notActive}</Notice>}
      {group.not_answered != null && <Notice kind="caution">{PEERS.notAnswered(group.not_answered)}</Notice>}
      {ask.isSuccess && group.not_answered == null && <Notice kind="settled">{PEERS.asked}</Notice>}
      <Failed why={ask.error} />
      <Loaded query={comparison} what={PEERS.comparison}>
        {(levels) => <Comparison levels={levels} group={group} />}
      </Loaded>
    </>
  );
}

function Comparison({ levels, group }: { levels: LevelBeside[]; group: PeerGroupView }) {
  if (levels.every(({ lots }) => lots.length === 0)) {
    return (
      <Empty>
        {PEERS.nothingGiven}{' '}
        {group.url == null && (
          <Link component={RouterLink} to={`/lab/peers/${group.id}/given`}>
            {GIVEN.byHand}
          </Link>
        )}
      </Empty>
    );
  }
  const analytes = [...new Set(levels.map(({ analyte }) => analyte))];
  return (
    <>
      <Typography sx={{ mb: 1.5, maxWidth: '80ch' }}>{besideInWords(levels)}</Typography>
      {analytes.map((analyte) => {
        const of = levels.filter((level) => level.analyte === analyte && level.lots.length > 0);
        return (
          of.length > 0 && (
            <Paper key={analyte} component="section" aria-label={analyte} sx={{ p: 2, mb: 2 }}>
              <Typography variant="h2">{analyte}</Typography>
              <SdiDrawing analyte={analyte} levels={of} />
              <BesideTable group={group.id} analyte={analyte} levels={of} />
            </Paper>
          )
        );
      })}
      <Typography variant="body2" color="text.secondary" sx={{ maxWidth: '80ch' }}>
        {PEERS.explained}
      </Typography>
    </>
  );
}
