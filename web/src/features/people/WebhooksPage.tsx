import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { Plan, WebhookView } from '../../api/client';
import { queries } from '../../api/queries';
import { ShownOnce } from '../../ui/ShownOnce';
import { Empty, Loaded } from '../../ui/States';
import { faring, NOTICE_KINDS, WEBHOOKS } from '../../words/notices';
import { PEOPLE } from '../../words/people';
import { LOADING } from '../../words/setUpForm';
import { WebhookForm } from './WebhookForm';

/** Other programs that are told. */
export default function WebhooksPage() {
  const webhooks = useQuery(queries.webhooks);
  const plan = useQuery(queries.plan);
  const [adding, setAdding] = useState(false);
  const [made, setMade] = useState<{ name: string; secret: string } | null>(null);
  if (made) {
    return (
      <ShownOnce
        title={WEBHOOKS.secret(made.name)}
        about={WEBHOOKS.secretOnce}
        secret={made.secret}
        done={WEBHOOKS.copied}
        onDone={() => setMade(null)}
      />
    );
  }
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {WEBHOOKS.title}
        </Typography>
        <Link component={RouterLink} to="/people">
          {PEOPLE.title}
        </Link>
        <Button variant="contained" onClick={() => setAdding(true)} disabled={adding}>
          {WEBHOOKS.add}
        </Button>
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {WEBHOOKS.about}
      </Typography>
      <Loaded query={plan} what={LOADING.plan}>
        {(all) => (
          <Loaded query={webhooks} what={WEBHOOKS.what}>
            {(told) => (
              <Stack spacing={2}>
                {adding && <WebhookForm plan={all} onMade={setMade} onDone={() => setAdding(false)} />}
                {told.length === 0 && !adding && <Empty>{WEBHOOKS.none}</Empty>}
                {told.map((webhook) => (
                  <Row key={`${webhook.id} ${webhook.version}`} webhook={webhook} plan={all} />
                ))}
              </Stack>
            )}
          </Loaded>
        )}
      </Loaded>
    </Box>
  );
}

function Row({ webhook, plan }: { webhook: WebhookView; plan: Plan }) {
  const [changing, setChanging] = useState(false);
  if (changing) return <WebhookForm of={webhook} plan={plan} onDone={() => setChanging(false)} />;
  const areas = plan.areas.filter(({ id }) => webhook.areas.includes(id)).map(({ name }) => name);
  return (
    <Paper component="section" aria-label={webhook.name} sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1, minWidth: 240, overflowWrap: 'anywhere' }}>
          <Typography sx={{ fontWeight: 600 }}>{webhook.name}</Typography>
          <Typography color="text.secondary">{webhook.url}</Typography>
          <Typography color="text.secondary">
            {[...webhook.kinds.map((kind) => NOTICE_KINDS[kind]), ...areas].join(' · ')}
          </Typography>
          <Typography>{faring(webhook)}</Typography>
        </Box>
        <Button
          color="inherit"
          variant="outlined"
          aria-label={WEBHOOKS.of(webhook.name)}
          onClick={() => setChanging(true)}
        >
          {WEBHOOKS.change}
        </Button>
      </Stack>
    </Paper>
  );
}
