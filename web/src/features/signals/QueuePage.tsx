import { Box, Button, Link, Stack, Typography } from '@mui/material';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link as RouterLink, useSearchParams } from 'react-router';
import type { EpisodeRow } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Empty, Loaded } from '../../ui/States';
import { EPISODE, QUEUE } from '../../words/signalPages';
import { EpisodeBody } from './EpisodeBody';
import { narrowedBy } from './filter';
import { ReviewForm } from './ReviewForm';
import { SignButton } from './SignButton';

/** What waits for a review, one after the other: a decision opens the next, until nothing is left. */
export default function QueuePage() {
  const [params] = useSearchParams();
  const mayReview = useMay('review_signal');
  const asked = { ...narrowedBy(params), to_review: true, order: 'queue' as const };
  const query = useInfiniteQuery({ ...queries.episodes(asked), enabled: mayReview });
  const count = useQuery({ ...queries.episodeCount(asked), enabled: mayReview });
  // What was decided here is gone before the list has been asked again; answered again, it is another matter.
  const [decided, setDecided] = useState<readonly string[]>([]);
  const [later, setLater] = useState<readonly string[]>([]);
  const waits = query.data?.pages.flat().filter((row) => !decided.includes(seen(row))) ?? [];
  const [now, next] = waits.filter((row) => !later.includes(seen(row)));
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  useEffect(() => {
    if (!next && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [next, hasNextPage, isFetchingNextPage, fetchNextPage]);
  // The next one is there when its turn comes.
  useQuery({ ...queries.episode(next?.id ?? ''), enabled: next !== undefined });
  const putOff = waits.filter((row) => later.includes(seen(row))).length;
  if (!mayReview) return <Empty>{EPISODE.waitsForSupervisor}</Empty>;
  return (
    <Box>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap', mb: 1 }}>
        <Typography role="status">
          {count.data && QUEUE.left(Math.max(count.data.count, waits.length))}
          {putOff > 0 && `, ${QUEUE.later(putOff)}`}
        </Typography>
        <Link component={RouterLink} to={`/signals?${params.toString()}`}>
          {QUEUE.back}
        </Link>
        <SignButton />
      </Stack>
      <Loaded query={query} what={EPISODE.episode}>
        {() =>
          now ? (
            <InTurn
              key={now.id}
              id={now.id}
              onDecided={() => setDecided((before) => [...before, seen(now)])}
              onLater={() => setLater((before) => [...before, seen(now)])}
            />
          ) : (
            <Empty>
              {putOff > 0 ? QUEUE.onlyLater : QUEUE.done}
              {putOff > 0 && <Button onClick={() => setLater([])}>{QUEUE.takeLater}</Button>}
            </Empty>
          )
        }
      </Loaded>
    </Box>
  );
}

/** An episode as it stood. */
function seen({ id, version }: EpisodeRow): string {
  return `${id} ${version}`;
}

/** The one whose turn it is. */
function InTurn({ id, onDecided, onLater }: { id: string; onDecided: () => void; onLater: () => void }) {
  const query = useQuery(queries.episode(id));
  return (
    <Loaded query={query} what={EPISODE.episode}>
      {(episode) => (
        <EpisodeBody episode={episode}>
          {episode.steps.review ? (
            <ReviewForm key={episode.version} episode={episode} focus onReviewed={onDecided} onSkip={onLater} />
          ) : (
            <Stack spacing={1} sx={{ alignItems: 'start' }}>
              <Typography color="text.secondary">
                {episode.steps.not_theirs == null
                  ? EPISODE.waitsForSupervisor
                  : EPISODE.notTheirs[episode.steps.not_theirs]}
              </Typography>
              <Button variant="outlined" color="inherit" autoFocus onClick={onLater}>
                {QUEUE.next}
              </Button>
            </Stack>
          )}
        </EpisodeBody>
      )}
    </Loaded>
  );
}
