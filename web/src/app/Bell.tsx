import { Box, Button, Link, Popover, SvgIcon, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { answered, api, type NoticeView } from '../api/client';
import { queries } from '../api/queries';
import { useMay } from '../session/session';
import { Loaded } from '../ui/States';
import { about, BELL, said } from '../words/notices';

/** What concerns who is signed in, and happened while they did not look. */
export function Bell() {
  const client = useQueryClient();
  const look = useMay('look');
  const query = useQuery({ ...queries.bell, enabled: look });
  const [at, setAt] = useState<HTMLElement | null>(null);
  const count = query.data?.new ?? 0;
  const close = async () => {
    setAt(null);
    const [latest] = query.data?.notices ?? [];
    if (!latest || count === 0) return;
    await answered(api.POST('/api/me/notices/seen', { body: { until: latest.at } }));
    await client.invalidateQueries({ queryKey: queries.bell.queryKey });
  };
  if (!look) return null;
  return (
    <>
      <Button
        color="inherit"
        aria-label={BELL.of(count)}
        aria-haspopup="dialog"
        aria-expanded={at !== null}
        sx={{ minWidth: 48, px: 1 }}
        onClick={(event) => setAt(event.currentTarget)}
      >
        <SvgIcon viewBox="0 0 24 24" fontSize="small" aria-hidden>
          <path
            d="M5 17h14l-1.6-2.2V10a5.4 5.4 0 0 0-10.8 0v4.8L5 17Zm5 1.5a2 2 0 0 0 4 0"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.8"
            strokeLinejoin="round"
          />
        </SvgIcon>
        {count > 0 && (
          <Box component="span" sx={{ ml: 0.5, fontWeight: 650, color: 'error.main' }}>
            {count}
          </Box>
        )}
      </Button>
      <Popover
        open={at !== null}
        anchorEl={at}
        onClose={() => void close()}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{
          paper: { role: 'dialog', 'aria-label': BELL.title, sx: { width: 420, maxWidth: 'calc(100% - 16px)', p: 2 } },
        }}
      >
        <Typography variant="h2">{BELL.title}</Typography>
        <Loaded query={query} what={BELL.what}>
          {({ notices }) =>
            notices.length === 0 ? (
              <Typography color="text.secondary">{BELL.none}</Typography>
            ) : (
              <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
                {notices.map((notice) => (
                  <Line key={notice.id} notice={notice} onFollow={() => void close()} />
                ))}
              </Box>
            )
          }
        </Loaded>
      </Popover>
    </>
  );
}

function Line({ notice, onFollow }: { notice: NoticeView; onFollow: () => void }) {
  return (
    <Box component="li" sx={{ py: 1, borderTop: 1, borderColor: 'divider' }}>
      <Link
        component={RouterLink}
        to={leadsTo(notice)}
        onClick={onFollow}
        sx={{ color: 'text.primary', fontWeight: notice.new ? 650 : 400 }}
      >
        {said(notice)}
      </Link>
      {notice.new && (
        <Box component="span" sx={{ ml: 1, color: 'error.main' }}>
          <span aria-hidden>● </span>
          {BELL.new}
        </Box>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
        {about(notice)}
      </Typography>
    </Box>
  );
}

function leadsTo({ episode, run, point }: NoticeView): string {
  if (point != null) return `/charts/${point.characteristic}?sample=${point.number}`;
  if (episode != null) return `/signals/${episode}`;
  return run == null ? '/plan/causes' : `/lab/runs/${run}`;
}
