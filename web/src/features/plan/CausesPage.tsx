import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { CauseEntry, CauseGroup, Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Empty, Loaded } from '../../ui/States';
import { CAUSE_GROUPS, CAUSES, NO_GROUP } from '../../words/causes';
import { LOADING, SET_UP } from '../../words/setUpForm';
import { AddCause, CauseRow } from './CauseRow';

/** The catalogue of causes: what is proposed, what answers can name, what they no longer can. */
export default function CausesPage() {
  const catalogue = useQuery(queries.causeCatalogue);
  const plan = useQuery(queries.plan);
  const maySetUp = useMay('set_up');
  const [adding, setAdding] = useState(false);
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {CAUSES.title}
        </Typography>
        <Link component={RouterLink} to="/plan">
          {SET_UP.back}
        </Link>
        {maySetUp && (
          <Button variant="contained" onClick={() => setAdding(true)} disabled={adding}>
            {CAUSES.add}
          </Button>
        )}
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {CAUSES.about}
      </Typography>
      <Loaded query={plan} what={LOADING.plan}>
        {(all) => (
          <Loaded query={catalogue} what={CAUSES.what}>
            {(causes) => (
              <Stack spacing={2}>
                {adding && <AddCause plan={all} onDone={() => setAdding(false)} />}
                {causes.length === 0 && !adding && <Empty>{CAUSES.none}</Empty>}
                {sections(causes).map(([title, of]) => (
                  <Section key={title} title={title} causes={of} all={causes} plan={all} />
                ))}
              </Stack>
            )}
          </Loaded>
        )}
      </Loaded>
    </Box>
  );
}

function Section({
  title,
  causes,
  all,
  plan,
}: {
  title: string;
  causes: readonly CauseEntry[];
  all: readonly CauseEntry[];
  plan: Plan;
}) {
  return (
    <Paper component="section" aria-label={title} sx={{ p: 2 }}>
      <Typography variant="h2">{title}</Typography>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {causes.map((cause) => (
          <CauseRow key={`${cause.id} ${cause.version}`} cause={cause} all={all} plan={plan} />
        ))}
      </Box>
    </Paper>
  );
}

/** What waits for a decision first; what is in use by its group; what is retired last. */
function sections(causes: readonly CauseEntry[]): [string, CauseEntry[]][] {
  const inUse = (group: CauseGroup | null) =>
    causes.filter((cause) => cause.state === 'in_use' && (cause.group ?? null) === group);
  const groups = Object.entries(CAUSE_GROUPS) as [CauseGroup, string][];
  const all: [string, CauseEntry[]][] = [
    [CAUSES.proposed, causes.filter((cause) => cause.state === 'proposed')],
    ...groups.map(([group, title]): [string, CauseEntry[]] => [title, inUse(group)]),
    [NO_GROUP, inUse(null)],
    [CAUSES.retired, causes.filter((cause) => cause.state === 'retired')],
  ];
  return all.filter(([, of]) => of.length > 0);
}
