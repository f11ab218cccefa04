import { Box, Button, Link, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { EpisodeRow, SignalState } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { StateMark } from '../../ui/StateMark';
import { List } from '../../ui/List';
import { Empty, Loaded } from '../../ui/States';
import { type Changes, useAddress } from '../../ui/useAddress';
import { episodeSentence } from '../../words/episodes';
import { FILTER, QUEUE, SIGNALS_LIST, standing } from '../../words/signalPages';
import { CAME_IN } from '../../words/cameIn';
import { LEARN } from '../../words/learn';
import { SIGNATURES } from '../../words/signatures';
import { when } from '../../words/time';
import { askedOf, LISTS, listOf, NARROWS, narrowedBy } from './filter';
import { FilterBar } from './FilterBar';
import { ReviewMany } from './ReviewMany';
import { SignButton } from './SignButton';

/** What may be decided on many at once, by the state they are in. */
const DECIDED_AT_ONCE: Partial<Record<SignalState | 'all', 'accepted' | 'seen'>> = {
  answered: 'accepted',
  found_late: 'seen',
};

const COLUMNS: GridColDef<EpisodeRow>[] = [
  {
    field: 'state',
    headerName: SIGNALS_LIST.columns.state,
    width: 130,
    renderCell: ({ row }) => <StateMark state={row.state} />,
  },
  {
    field: 'sentence',
    headerName: SIGNALS_LIST.columns.sentence,
    flex: 2,
    minWidth: 280,
    valueGetter: (_, row) => episodeSentence(row),
    renderCell: ({ row, value }) => (
      <Link component={RouterLink} to={`/signals/${row.id}`} sx={{ color: 'text.primary' }}>
        {value}
      </Link>
    ),
  },
  {
    field: 'name',
    headerName: SIGNALS_LIST.columns.where,
    flex: 1,
    minWidth: 190,
    valueGetter: (_, row) => `${row.name}, ${row.product}, ${row.station}`,
  },
  {
    field: 'raised_at',
    headerName: SIGNALS_LIST.columns.raised,
    width: 150,
    valueFormatter: (value: string) => when(value),
  },
  {
    field: 'standing',
    headerName: SIGNALS_LIST.columns.answer,
    flex: 1,
    minWidth: 190,
    valueGetter: (_, row) => standing(row),
  },
];

export default function SignalsPage() {
  const { params, put } = useAddress();
  const list = listOf(params);
  const narrowed = narrowedBy(params);
  const asked = askedOf(list, narrowed);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [narrowing, setNarrowing] = useState(NARROWS.some((by) => params.has(by)));
  const mayReview = useMay('review_signal');
  const decision = mayReview ? DECIDED_AT_ONCE[list] : undefined;
  const query = useInfiniteQuery(queries.episodes(asked));
  const count = useQuery(queries.episodeCount(asked));
  const toReview = useQuery({ ...queries.episodeCount({ ...narrowed, to_review: true }), enabled: mayReview });
  const go = (changes: Changes) => {
    setChosen([]);
    put(changes);
  };
  return (
    <Box>
      <Box sx={{ display: 'flex', gap: 2, rowGap: 1, alignItems: 'center', mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1">{SIGNALS_LIST.title}</Typography>
        <ToggleButtonGroup
          exclusive
          value={list}
          aria-label={SIGNALS_LIST.which}
          sx={{ flexWrap: 'wrap' }}
          onChange={(_, value: string | null) => {
            if (value !== null) go({ state: value });
          }}
        >
          {LISTS.map((f) => (
            <ToggleButton key={f} value={f}>
              {SIGNALS_LIST.filters[f]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Button color="inherit" aria-expanded={narrowing} onClick={() => setNarrowing(!narrowing)}>
          {FILTER.title}
        </Button>
        <Typography color="text.secondary" sx={{ flex: 1 }} role="status">
          {count.data && FILTER.found(count.data.count)}
        </Typography>
        <Link component={RouterLink} to="/signals/samples">
          {CAME_IN.title}
        </Link>
        <Link component={RouterLink} to="/signals/learn">
          {LEARN.title}
        </Link>
        <Link component={RouterLink} to="/signals/signatures">
          {SIGNATURES.title}
        </Link>
        <SignButton />
        {toReview.data !== undefined && toReview.data.count > 0 && (
          <Button component={RouterLink} variant="contained" to={`/signals/queue?${params.toString()}`}>
            {QUEUE.begin(toReview.data.count)}
          </Button>
        )}
      </Box>
      {narrowing && <FilterBar params={params} onNarrow={go} />}
      <Loaded query={query} what={SIGNALS_LIST.episodes}>
        {({ pages }) =>
          pages[0]?.length === 0 ? (
            <Empty>
              {NARROWS.some((by) => params.has(by)) ? SIGNALS_LIST.nothingSuch : SIGNALS_LIST.nothing[list]}
            </Empty>
          ) : (
            <>
              {decision && chosen.length > 0 && (
                <ReviewMany
                  chosen={pages.flat().filter(({ id }) => chosen.includes(id))}
                  decision={decision}
                  onDone={() => setChosen([])}
                />
              )}
              <List
                label={SIGNALS_LIST.title}
                rows={pages.flat()}
                columns={COLUMNS}
                rowId={(episode) => episode.id}
                onChoose={decision && setChosen}
              />
              {query.hasNextPage && (
                <Button sx={{ mt: 1 }} disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
                  {SIGNALS_LIST.more}
                </Button>
              )}
            </>
          )
        }
      </Loaded>
    </Box>
  );
}
