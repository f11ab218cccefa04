import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { SIGN } from '../../words/signatures';

/** How many decisions of whoever looks are not signed, where there are any. */
export function SignButton() {
  const mayReview = useMay('review_signal');
  const count = useQuery({ ...queries.unsigned, enabled: mayReview }).data?.length ?? 0;
  if (count === 0) return null;
  return (
    <Button component={RouterLink} to="/signals/sign" variant="outlined" sx={{ minHeight: 48 }}>
      {SIGN.toSign(count)}
    </Button>
  );
}
