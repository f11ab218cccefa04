import { Link, TableCell, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { Link as RouterLink } from 'react-router';
import type { EpisodeLine, EpisodeRow, PointLine, ReportNote, ReviewLine } from '../../api/client';
import { StateMark } from '../../ui/StateMark';
import { episodeSentence } from '../../words/episodes';
import { REPORTS } from '../../words/reports';
import { DECISIONS, spanLabel } from '../../words/signals';
import { when } from '../../words/time';

const Small = ({ children }: { children: ReactNode }) => (
  <Typography variant="body2" color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
    {children}
  </Typography>
);

/** What was said, a paragraph each, with who and when under it. */
function Said({ all, none = '' }: { all: readonly { text: string; by: string }[]; none?: string }) {
  if (all.length === 0) return <Small>{none}</Small>;
  return all.map(({ text, by }) => (
    <div key={`${by} ${text}`}>
      <Typography sx={{ overflowWrap: 'anywhere', whiteSpace: 'pre-wrap' }}>{text}</Typography>
      <Small>{by}</Small>
    </div>
  ));
}

const by = ({ person, at }: { person: string; at: string }) => `${person}, ${when(at)}`;
const joined = (...parts: readonly (string | null | undefined)[]) =>
  parts.filter((part) => part != null && part !== '').join('. ');

function Happened({ episode }: { episode: EpisodeRow }) {
  return (
    <>
      <Link component={RouterLink} to={`/signals/${episode.id}`} sx={{ color: 'text.primary' }}>
        {episodeSentence(episode)}
      </Link>
      <Small>{[episode.name, episode.product, episode.station].join(', ')}</Small>
    </>
  );
}

export function EpisodeCells({ line }: { line: EpisodeLine }) {
  return (
    <>
      <TableCell>
        <StateMark state={line.state} />
        <div>
          <Happened episode={line} />
        </div>
      </TableCell>
      <TableCell>
        <Said
          none={REPORTS.unanswered}
          all={line.answers.map((answer) => ({
            text: joined(answer.cause ?? REPORTS.nothingFound, answer.action, answer.comment),
            by: by(answer),
          }))}
        />
      </TableCell>
      <TableCell>
        <Said
          none={REPORTS.unreviewed}
          all={line.reviews.map((review) => ({
            text: joined(DECISIONS[review.decision], review.remark),
            by: `${by(review)} · ${signed(review)}`,
          }))}
        />
      </TableCell>
    </>
  );
}

export function PointCells({ line }: { line: PointLine }) {
  const readings = line.readings.map((value) => (value === null ? '–' : value.toFixed(line.decimals))).join('  ');
  const counted = line.count == null ? '' : `${line.count} of ${line.inspected ?? ''}`;
  const notes = (all: readonly ReportNote[]) => all.map((note) => ({ text: note.text, by: by(note) }));
  return (
    <>
      <TableCell>
        <Link
          component={RouterLink}
          to={`/charts/${line.characteristic}?sample=${line.number}`}
          sx={{ color: 'text.primary' }}
        >
          {line.name}, {line.number}
        </Link>
        <Typography>{readings === '' ? counted : `${readings} ${line.unit}`}</Typography>
        <Small>{[line.product, line.station, by(line)].join(', ')}</Small>
      </TableCell>
      <TableCell>
        {line.patterns.map((pattern) => (
          <Typography key={`${pattern.panel} ${pattern.rule.kind} ${pattern.side ?? ''}`}>
            {spanLabel(pattern.rule, pattern.side, pattern.panel)}
          </Typography>
        ))}
      </TableCell>
      <TableCell>
        <Said all={notes(line.actions)} />
      </TableCell>
      <TableCell>
        <Said all={notes(line.remarks)} />
      </TableCell>
    </>
  );
}

export function ReviewCells({ line }: { line: ReviewLine }) {
  return (
    <>
      <TableCell>
        <Said all={[{ text: joined(DECISIONS[line.decision], line.remark), by: by(line) }]} />
      </TableCell>
      <TableCell>
        <Happened episode={line.episode} />
        <Small>{line.answered_by.join(', ')}</Small>
      </TableCell>
      <TableCell>{signed(line)}</TableCell>
    </>
  );
}

function signed({ signed_by: who, signed_at: at }: { signed_by?: string | null; signed_at?: string | null }): string {
  return who == null || at == null ? REPORTS.notSigned : `signed by ${who}, ${when(at)}`;
}
