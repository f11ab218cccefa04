import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { ShownOnce } from '../../ui/ShownOnce';
import { Loaded } from '../../ui/States';
import { WEBHOOKS } from '../../words/notices';
import { PEOPLE } from '../../words/people';
import { LOADING } from '../../words/setUpForm';
import { AccountForm } from './AccountForm';
import { AccountRow } from './AccountRow';
import type { Given } from './given';

/** Who signs in, what part they play, and where. */
export default function PeoplePage() {
  const accounts = useQuery(queries.accounts);
  const plan = useQuery(queries.plan);
  const [adding, setAdding] = useState(false);
  const [given, setGiven] = useState<Given | null>(null);
  if (given) {
    return (
      <ShownOnce
        title={PEOPLE.first(given.name)}
        about={PEOPLE.firstOnce}
        secret={given.password}
        done={PEOPLE.handedOver}
        onDone={() => setGiven(null)}
      />
    );
  }
  return (
    <Box sx={{ maxWidth: 980, mx: 'auto' }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2, mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {PEOPLE.title}
        </Typography>
        <Button color="inherit" component={RouterLink} to="/people/webhooks">
          {WEBHOOKS.title}
        </Button>
        <Button variant="contained" onClick={() => setAdding(true)} disabled={adding}>
          {PEOPLE.add}
        </Button>
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {PEOPLE.about}
      </Typography>
      <Loaded query={plan} what={LOADING.plan}>
        {(all) => (
          <Loaded query={accounts} what={PEOPLE.what}>
            {(people) => (
              <Stack spacing={2}>
                {adding && <AccountForm plan={all} onGiven={setGiven} onDone={() => setAdding(false)} />}
                <Paper component="section" aria-label={PEOPLE.title} sx={{ px: 2 }}>
                  <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
                    {people.map((person) => (
                      <AccountRow key={`${person.id} ${person.version}`} of={person} plan={all} onGiven={setGiven} />
                    ))}
                  </Box>
                </Paper>
              </Stack>
            )}
          </Loaded>
        )}
      </Loaded>
    </Box>
  );
}
