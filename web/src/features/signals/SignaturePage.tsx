import { Box, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useParams } from 'react-router';
import { queries } from '../../api/queries';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { SIGNATURES } from '../../words/signatures';
import { DecisionLine } from './DecisionLine';

/** One signature: who, when, what it says, exactly what it covers, and what has changed since. */
export default function SignaturePage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.signature(id));
  return (
    <Box sx={{ maxWidth: 900, mx: 'auto' }}>
      <Loaded query={query} what={SIGNATURES.what}>
        {({ name, at, covers }) => (
          <>
            <Typography variant="h1">{SIGNATURES.one(name, at)}</Typography>
            <Typography sx={{ mb: 1 }}>{SIGNATURES.reviewed}</Typography>
            <Link component={RouterLink} to="/signals/signatures">
              {SIGNATURES.back}
            </Link>
            <Stack spacing={1.5} sx={{ mt: 1.5 }}>
              {covers.map(({ review, digest, changed, ...decision }) => (
                <Paper key={review} component="article" sx={{ p: 1.5 }}>
                  <DecisionLine {...decision} />
                  {changed.length > 0 ? (
                    <Notice kind="caution">{SIGNATURES.changed(changed)}</Notice>
                  ) : (
                    <Typography color="text.secondary">✓ {SIGNATURES.asSigned}</Typography>
                  )}
                  <Typography color="text.secondary" variant="body2" sx={{ overflowWrap: 'anywhere' }}>
                    {SIGNATURES.digest} {digest}
                  </Typography>
                </Paper>
              ))}
            </Stack>
          </>
        )}
      </Loaded>
    </Box>
  );
}
