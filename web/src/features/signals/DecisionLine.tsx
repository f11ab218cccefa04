import { Box, Link, Typography } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { Unsigned } from '../../api/client';
import { episodeSentence } from '../../words/episodes';
import { SIGN } from '../../words/signatures';
import { DECISIONS } from '../../words/signals';

/** A decision in a list: what was decided, of what, and why. */
export function DecisionLine({
  decision,
  remark,
  at,
  episode,
}: Pick<Unsigned, 'decision' | 'remark' | 'at' | 'episode'>) {
  return (
    <Box sx={{ minWidth: 0 }}>
      <Typography>
        <Box component="span" sx={{ fontWeight: 600 }}>
          {DECISIONS[decision]}
        </Box>
        {' · '}
        {episode.name} · {episode.product} · {episode.station}
      </Typography>
      <Link component={RouterLink} to={`/signals/${episode.id}`} sx={{ color: 'text.primary' }}>
        {episodeSentence(episode)}
      </Link>
      <Typography color="text.secondary">
        {remark != null && `“${remark}” · `}
        {SIGN.decided(at)}
      </Typography>
    </Box>
  );
}
