import { Box, Link, Stack, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useParams, useSearchParams } from 'react-router';
import type { LimitsPath, LimitsView, PathPoint } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { LIMITS } from '../../words/limits';
import { Look } from './Look';
import { PathDrawn } from './PathDrawn';
import { PathFigures } from './PathFigures';
import { PathWalk } from './PathWalk';
import { Phases } from './Phases';
import { PutInForce } from './PutInForce';

/** The path of limits: trial, points looked at one after another, revised, put in force. The address says which. */
export default function LimitsPage() {
  const { id = '' } = useParams();
  const [params] = useSearchParams();
  const named = (['phase', 'first', 'last'] as const).flatMap((name) => {
    const value = params.get(name);
    return value === null ? [] : [[name, value] as const];
  });
  const query = useQuery({
    ...queries.limits(id, Object.fromEntries(named)),
    placeholderData: keepPreviousData,
  });
  return (
    <Loaded query={query} what={LIMITS.limits}>
      {(view) => <Limits key={id} view={view} />}
    </Loaded>
  );
}

function Limits({ view }: { view: LimitsView }) {
  const { characteristic: c, judging, look, path } = view;
  return (
    <Box>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', mb: 1.5, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="h1">{LIMITS.title(c.name)}</Typography>
          <Typography color="text.secondary">
            {c.product} · {c.station}
          </Typography>
        </Box>
        <Link component={RouterLink} to={`/charts/${c.id}`}>
          {LIMITS.toChart}
        </Link>
      </Stack>
      {judging != null && (
        <Notice kind="caution">
          {judging.failed ? LIMITS.judgingFailed : LIMITS.judging(judging.done, judging.total)}
        </Notice>
      )}
      {look && (
        <Box sx={{ mb: 1.5 }}>
          <Notice kind="caution">
            <Look look={look} />
          </Notice>
        </Box>
      )}
      {path == null ? <Empty>{LIMITS.noPoints}</Empty> : <Path key={path.phase} view={view} path={path} />}
      <Phases view={view} shown={path?.phase} />
    </Box>
  );
}

function Path({ view, path }: { view: LimitsView; path: LimitsPath }) {
  const mayLimit = useMay('set_limits');
  // By number: points come and go from the list as limits move.
  const [number, setNumber] = useState(0);
  const phase = view.phases.find((p) => p.id === path.phase);
  const found = path.findings.findIndex((finding) => finding.number >= number);
  const at = found === -1 ? Math.max(0, path.findings.length - 1) : found;
  const look = (finding: PathPoint | undefined) => finding && setNumber(finding.number);
  const looked = path.findings[at];
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 376px' },
        gap: 2,
        alignItems: 'start',
      }}
    >
      <Stack spacing={2} sx={{ minWidth: 0 }}>
        <PathDrawn
          view={view}
          path={path}
          looked={looked?.sample}
          onLook={(sample) => look(path.findings.find((finding) => finding.sample === sample))}
        />
        <PathFigures view={view} path={path} />
      </Stack>
      <Stack spacing={2}>
        <PathWalk view={view} findings={path.findings} place={at} onPlace={(place) => look(path.findings[place])} />
        {mayLimit && phase && (
          <PutInForce key={`${path.first ?? ''} ${path.last ?? ''}`} view={view} path={path} phase={phase} />
        )}
      </Stack>
    </Box>
  );
}
