import { Link, Typography } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { EpisodeRow, HandoverView } from '../../api/client';
import { StateMark } from '../../ui/StateMark';
import { episodeSentence } from '../../words/episodes';
import { HANDOVER } from '../../words/handover';
import { standing } from '../../words/signalPages';
import { when } from '../../words/time';
import { DEEDS, detailInWords, TRAIL } from '../../words/trail';
import { Lines, Part } from './Part';

export function Episodes({ title, rows, count }: { title: string; rows: readonly EpisodeRow[]; count: number }) {
  return (
    <Part title={title}>
      <Lines
        lines={rows.map((row) => ({
          key: row.id,
          mark: <StateMark state={row.state} />,
          what: (
            <Link component={RouterLink} to={`/signals/${row.id}`} sx={{ color: 'text.primary' }}>
              {episodeSentence(row)}
            </Link>
          ),
          about: `${row.name}, ${row.product}, ${row.station}`,
          aside: standing(row),
        }))}
      />
      {count > rows.length && <Typography color="text.secondary">{HANDOVER.more}</Typography>}
    </Part>
  );
}

export function Skipped({ all }: { all: HandoverView['skipped'] }) {
  return (
    <Part title={HANDOVER.skipped(all.length)}>
      <Lines
        lines={all.map((skipped) => ({
          key: `${skipped.characteristic} ${skipped.number}`,
          what: (
            <Link
              component={RouterLink}
              to={`/charts/${skipped.characteristic}?sample=${skipped.number}`}
              sx={{ color: 'text.primary' }}
            >
              {skipped.because}
            </Link>
          ),
          about: `${skipped.name}, ${skipped.product}, ${skipped.station}, ${HANDOVER.sample(skipped.number)}`,
          aside: `${skipped.person}, ${when(skipped.at)}`,
        }))}
      />
    </Part>
  );
}

export function Changes({ all }: { all: HandoverView['changes'] }) {
  return (
    <Part title={HANDOVER.changes(all.length)}>
      <Lines
        lines={all.map((entry) => ({
          key: `${entry.chain} ${entry.position}`,
          what: (
            <Link component={RouterLink} to={`/charts/${entry.chain}`} sx={{ color: 'text.primary' }}>
              {DEEDS[entry.action]}: {TRAIL.at(entry.characteristic ?? '', entry.station ?? '')}
            </Link>
          ),
          about: detailInWords(entry.detail),
          aside: `${entry.person ?? TRAIL.itself}, ${when(entry.at)}`,
        }))}
      />
    </Part>
  );
}

export function Silent({ all }: { all: HandoverView['silent'] }) {
  return (
    <Part title={HANDOVER.silent(all.length)}>
      <Lines
        lines={all.map(({ name, stations, since }) => ({
          key: name,
          what: name,
          about: stations,
          aside: `${HANDOVER.silentSince} ${when(since)}`,
        }))}
      />
    </Part>
  );
}
