import { Box, Button, CircularProgress, Typography } from '@mui/material';
import type { UseBaseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Failure, isFailure } from '../api/failure';
import { sentenceFor } from '../words/failures';
import { STATE } from '../words/states';
import { Notice } from './Notice';

/** What is shown while there is nothing yet. */
export function Loading({ what }: { what: string }) {
  return (
    <Box role="status" sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 4 }}>
      <CircularProgress size={22} aria-hidden /> {STATE.loading(what)}
    </Box>
  );
}

/** What is shown when there is nothing: what to do first. */
export function Empty({ children }: { children: ReactNode }) {
  return (
    <Typography color="text.secondary" sx={{ p: 4 }}>
      {children}
    </Typography>
  );
}

/** What the frame of every page says already: no server, or nobody signed in. */
function isSaidElsewhere(error: unknown): boolean {
  return isFailure(error, 'away') || (error instanceof Failure && error.status === 401);
}

/** The data of a query, or the state it is in. Data once loaded stay in sight while they are refreshed, or cannot be. */
export function Loaded<T>({
  query,
  what,
  wayOut,
  children,
}: {
  query: Pick<UseBaseQueryResult<T>, 'data' | 'error' | 'isError' | 'isPending' | 'refetch'>;
  what: string;
  /** What helps against an error that would be the same another time. */
  wayOut?: (error: unknown) => ReactNode;
  children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) {
    return (
      <>
        {query.isError && !isSaidElsewhere(query.error) && (
          <Notice kind="caution">
            {STATE.asLastSeen} {sentenceFor(query.error)}
          </Notice>
        )}
        {children(query.data)}
      </>
    );
  }
  if (query.isPending) return <Loading what={what} />;
  return (
    <Box sx={{ p: 3, maxWidth: 560 }}>
      <Notice kind="problem">{sentenceFor(query.error)}</Notice>
      <Box sx={{ mt: 2 }}>
        {wayOut?.(query.error) ?? (
          <Button variant="outlined" onClick={() => void query.refetch()}>
            {STATE.loadAgain}
          </Button>
        )}
      </Box>
    </Box>
  );
}
