import { Box, Link, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink } from 'react-router';
import type { EpisodeBefore, EpisodeView } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import {
  differsInWords,
  EXPLAINED,
  alikeInWords,
  changedInWords,
  eventInWords,
  noteInWords,
} from '../../words/explained';

/** What may explain an episode: what differs inside it, what happened near it, how its like were answered. */
export function Explained({ episode }: { episode: EpisodeView }) {
  const query = useQuery(queries.explained(episode.id));
  if (query.isError) return <Failed why={query.error} />;
  if (!query.data) return null;
  const { alike, changed, differs, events, notes, same_cause: same } = query.data;
  const happened = [...changed.map(changedInWords), ...events.map(eventInWords), ...notes.map(noteInWords)];
  return (
    <Box component="section" aria-label={EXPLAINED.title} sx={{ my: 2, display: 'grid', gap: 1 }}>
      <Typography variant="h3" component="h2">
        {EXPLAINED.differs}
      </Typography>
      {differs.found.length === 0 ? (
        <Typography color="text.secondary">
          {differs.too_few ? EXPLAINED.tooFew : EXPLAINED.nothingDiffers(differs.tested)}
        </Typography>
      ) : (
        differs.found.map((found) => (
          <Typography key={`${found.tag} ${found.value}`}>
            {differsInWords(found)}{' '}
            <Link
              component={RouterLink}
              to={`/charts/${episode.characteristic}/look?tag=${encodeURIComponent(found.tag)}&arrange=marks`}
            >
              {EXPLAINED.markedBy(found.tag)}
            </Link>
          </Typography>
        ))
      )}
      <Typography variant="h3" component="h2">
        {EXPLAINED.near}
      </Typography>
      {happened.length === 0 ? (
        <Typography color="text.secondary">{EXPLAINED.nothingNear}</Typography>
      ) : (
        happened.map((said, i) => <Typography key={i}>{said}</Typography>)
      )}
      <Typography variant="h3" component="h2">
        {EXPLAINED.alike}
      </Typography>
      <Before of={alike} none={EXPLAINED.noneAlike} />
      {same && (
        <>
          <Typography variant="h3">{EXPLAINED.sameCause(same.cause)}</Typography>
          <Before of={same.latest} none={EXPLAINED.nowhereElse} />
          {same.episodes > same.latest.length && (
            <Typography color="text.secondary">{EXPLAINED.moreOften(same.episodes - same.latest.length)}</Typography>
          )}
        </>
      )}
    </Box>
  );
}

/** Earlier episodes, with their answers. */
function Before({ of, none }: { of: readonly EpisodeBefore[]; none: string }) {
  if (of.length === 0) return <Typography color="text.secondary">{none}</Typography>;
  return of.map((before) => (
    <Typography key={before.id}>
      <Link component={RouterLink} to={`/signals/${before.id}`}>
        {EXPLAINED.samples(before.from_number, before.to_number)}
      </Link>
      : {alikeInWords(before)}
    </Typography>
  ));
}
