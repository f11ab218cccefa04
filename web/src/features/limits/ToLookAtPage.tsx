import { Box, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { Empty, Loaded } from '../../ui/States';
import { LOOK } from '../../words/look';
import { Look } from './Look';

/** Limits in force that the points since speak against, the least likely first. */
export default function ToLookAtPage() {
  const query = useQuery(queries.toLookAt);
  return (
    <Box sx={{ maxWidth: 920, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 2 }}>
        {LOOK.title}
      </Typography>
      <Loaded query={query} what={LOOK.what}>
        {(all) =>
          all.length === 0 ? (
            <Empty>{LOOK.none}</Empty>
          ) : (
            <Stack component="ul" spacing={1.5} sx={{ m: 0, p: 0, listStyle: 'none' }}>
              {all.map((look) => (
                <Paper key={look.characteristic} component="li" aria-label={look.name} sx={{ p: 2 }}>
                  <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 1 }}>
                    <Box sx={{ flex: 1 }}>
                      <Typography variant="h2">{look.name}</Typography>
                      <Typography color="text.secondary">
                        {look.product} · {look.station} ·{' '}
                        {LOOK.named(look.limits_name ?? LOOK.title, look.put_in_force_at)}
                      </Typography>
                    </Box>
                    <Link component={RouterLink} to={`/charts/${look.characteristic}/limits`}>
                      {LOOK.toLimits}
                    </Link>
                  </Stack>
                  <Look look={look} />
                </Paper>
              ))}
            </Stack>
          )
        }
      </Loaded>
    </Box>
  );
}
