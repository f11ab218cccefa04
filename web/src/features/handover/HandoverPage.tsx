import { Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useSearchParams } from 'react-router';
import type { HandoverView } from '../../api/client';
import { queries } from '../../api/queries';
import { useOwnStations } from '../../session/session';
import { Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { HANDOVER } from '../../words/handover';
import { WHOSE } from '../../words/people';
import { Changes, Episodes, Silent, Skipped } from './Parts';
import { ReadBy } from './ReadBy';
import { Words } from './Words';

/** What one shift hands over to the next: read at the screen, or printed. */
export default function HandoverPage() {
  const [params] = useSearchParams();
  const own = useOwnStations();
  const mine = own !== null && !params.has('everywhere');
  const query = useQuery(queries.handover(params.get('shift'), mine));
  return (
    <Loaded query={query} what={HANDOVER.what}>
      {(view) => <Handover view={view} mine={mine} />}
    </Loaded>
  );
}

function Handover({ view, mine }: { view: HandoverView; mine: boolean }) {
  const own = useOwnStations();
  const { params, put } = useAddress();
  const to = (shift: string) => {
    const next = new URLSearchParams(params);
    next.set('shift', shift);
    return `/handover?${next.toString()}`;
  };
  const whose = (all: boolean | null) => {
    if (all !== null) put({ everywhere: all ? 'true' : null }, true);
  };
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1.5, mb: 1.5, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1, minWidth: 260 }}>
          <Typography variant="h1">{HANDOVER.title}</Typography>
          <Typography color="text.secondary">{HANDOVER.shift(view.shift, view.began, view.ends)}</Typography>
        </Box>
        <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', displayPrint: 'none' }}>
          {own !== null && (
            <ToggleButtonGroup
              exclusive
              aria-label={WHOSE.label}
              value={!mine}
              onChange={(_, all: boolean | null) => whose(all)}
            >
              <ToggleButton value={false}>{WHOSE.mine}</ToggleButton>
              <ToggleButton value={true}>{WHOSE.all}</ToggleButton>
            </ToggleButtonGroup>
          )}
          {view.before != null && (
            <Button color="inherit" component={RouterLink} to={to(view.before)}>
              {HANDOVER.before}
            </Button>
          )}
          {view.after != null && (
            <Button color="inherit" component={RouterLink} to={to(view.after)}>
              {HANDOVER.after}
            </Button>
          )}
          <Button color="inherit" variant="outlined" onClick={() => window.print()}>
            {HANDOVER.print}
          </Button>
        </Stack>
      </Stack>
      <Stack spacing={1.5}>
        <Words key={view.began} view={view} />
        <Episodes title={HANDOVER.open(view.open_count)} rows={view.open} count={view.open_count} />
        <Episodes
          title={HANDOVER.dealtWith(view.dealt_with_count)}
          rows={view.dealt_with}
          count={view.dealt_with_count}
        />
        <Skipped all={view.skipped} />
        <Changes all={view.changes} />
        <Silent all={view.silent} />
        <ReadBy view={view} />
      </Stack>
    </Box>
  );
}
