import { Box, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { Empty, Loaded } from '../../ui/States';
import { SIGNATURES } from '../../words/signatures';

/** Signatures that were given, the latest first. */
export default function SignaturesPage() {
  const query = useQuery(queries.signatures);
  return (
    <Box sx={{ maxWidth: 900, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {SIGNATURES.title}
      </Typography>
      <Loaded query={query} what={SIGNATURES.what}>
        {(signatures) =>
          signatures.length === 0 ? (
            <Empty>{SIGNATURES.nothing}</Empty>
          ) : (
            <Paper component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
              {signatures.map(({ id, name, at, reviews }) => (
                <Stack
                  key={id}
                  component="li"
                  direction="row"
                  sx={{ p: 1.5, gap: 2, borderTop: 1, borderColor: 'divider', '&:first-of-type': { borderTop: 0 } }}
                >
                  <Link component={RouterLink} to={`/signals/signatures/${id}`}>
                    {SIGNATURES.one(name, at)}
                  </Link>
                  <Typography color="text.secondary">{SIGNATURES.covers(reviews)}</Typography>
                </Stack>
              ))}
            </Paper>
          )
        }
      </Loaded>
    </Box>
  );
}
