import { Link } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import { queries } from '../api/queries';
import { useMay } from '../session/session';
import { FRAME } from '../words/app';

/** What was raised to supervisors and is still open, wherever they are. */
export function OpenTooLong() {
  const mayReview = useMay('review_signal');
  const asked = { waiting: true, escalated: true, mine: true } as const;
  const count = useQuery({ ...queries.episodeCount(asked), enabled: mayReview }).data?.count ?? 0;
  if (!mayReview || count === 0) return null;
  return (
    <Link
      component={RouterLink}
      to="/signals?state=open&escalated=true"
      sx={{
        display: { xs: 'none', sm: 'inline-flex' },
        color: 'error.main',
        fontWeight: 650,
        px: 1.5,
        minHeight: 48,
        alignItems: 'center',
        whiteSpace: 'nowrap',
      }}
    >
      <span aria-hidden>◆&nbsp;</span>
      {FRAME.openTooLong(count)}
    </Link>
  );
}
