import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useState } from 'react';
import type { ChartView } from '../../api/chart';
import { useMay } from '../../session/session';
import { Notice } from '../../ui/Notice';
import { STRETCH } from '../../words/stretch';
import { recorded } from '../../words/samples';
import { when } from '../../words/time';
import { type ChangeOf, DeedForm } from './DeedForm';
import { useLimitsChange } from './useLimitsChange';

/** More points are not set aside at a time: each is judged again. */
const ASIDE_AT_MOST = 100;

interface Props {
  /** The points of the stretch, and nothing else. */
  view: ChartView;
  onClose: () => void;
  onAway: () => void;
}

/** Several points in a row: what they are, and what can be done with all of them. */
export function StretchCard({ view, onClose, onAway }: Props) {
  const { characteristic: c, points, panels, marks } = view;
  const [first, last] = [marks.number[0] ?? 0, marks.number[marks.number.length - 1] ?? 0];
  const [begins, ends] = [marks.taken_at[0] ?? 0, marks.taken_at[marks.taken_at.length - 1] ?? 0];
  const flagged = new Set(panels.flatMap((panel) => panel.flagged)).size;
  const tags = sharedTags(points);
  const csv = `/api/characteristics/${c.id}/chart.csv?from=${first}&to=${last}`;
  return (
    <Paper component="section" aria-label={STRETCH.title(first, last)} sx={{ p: 2 }}>
      <Typography variant="h2">{STRETCH.title(first, last)}</Typography>
      <Typography color="text.secondary">{STRETCH.times(begins, ends)}</Typography>
      <Typography sx={{ mt: 1, fontWeight: 600 }}>
        {STRETCH.counts(view.places, flagged, marks.aside.length, view.flags_thinned)}
      </Typography>
      {tags.length > 0 && <Typography color="text.secondary">{STRETCH.all(tags)}</Typography>}
      <Stack direction="row" sx={{ flexWrap: 'wrap', gap: 1, my: 1.5 }}>
        <Button variant="outlined" color="inherit" onClick={onClose}>
          {STRETCH.close}
        </Button>
        <Button variant="outlined" color="inherit" component={Link} href={csv} download>
          {STRETCH.csv}
        </Button>
        <Button color="inherit" onClick={onAway}>
          {STRETCH.away}
        </Button>
      </Stack>
      {points.length < view.places && <Typography color="text.secondary">{STRETCH.notEach}</Typography>}
      {points.length === view.places && <SetAside view={view} />}
      <Box
        component="ol"
        tabIndex={0}
        aria-label={STRETCH.samples}
        sx={{ m: 0, p: 0, listStyle: 'none', maxHeight: { xs: 130, lg: 320 }, overflowY: 'auto' }}
      >
        {points.map((point) => (
          <Box component="li" key={point.sample} sx={{ py: 0.5, borderTop: 1, borderColor: 'divider' }}>
            <b>{point.number}</b> {recorded(point, c)}
            <Typography component="span" color="text.secondary" variant="body2">
              {' '}
              · {when(point.taken_at)}
              {point.aside != null && ` · ${STRETCH.isAside}`}
            </Typography>
          </Box>
        ))}
      </Box>
    </Paper>
  );
}

/** Tags that all of them have alike. */
function sharedTags(points: ChartView['points']): string[] {
  const [first, ...others] = points;
  return Object.entries(first?.tags ?? {})
    .filter(([name, value]) => others.every((point) => point.gap != null || point.tags[name] === value))
    .map(([name, value]) => `${name} ${value}`);
}

/** All of them are left out of limits and rules, for one cause. */
function SetAside({ view: { characteristic, points } }: { view: ChartView }) {
  const may = useMay('set_aside');
  const change = useLimitsChange(characteristic.id);
  const [open, setOpen] = useState(false);
  const [done, setDone] = useState<number | null>(null);
  const left = points.filter((point) => point.aside == null && point.gap == null);
  if (!may || (left.length === 0 && done === null)) return null;
  const make = async (of: ChangeOf) => {
    let made = 0;
    setDone(0);
    for (const { sample } of left) {
      try {
        await change.mutateAsync(of(sample));
      } catch {
        // The form says why; what was set aside until then is, and each can be taken back.
        return;
      }
      made += 1;
      setDone(made);
    }
    setOpen(false);
  };
  return (
    <Box sx={{ mb: 1.5 }}>
      {done !== null && <Notice kind="settled">{STRETCH.done(done)}</Notice>}
      {open ? (
        <DeedForm
          deed="aside"
          characteristic={characteristic.id}
          change={change}
          make={(of) => void make(of)}
          onBack={() => setOpen(false)}
        />
      ) : left.length > ASIDE_AT_MOST ? (
        <Typography color="text.secondary">{STRETCH.tooMany(ASIDE_AT_MOST)}</Typography>
      ) : (
        left.length > 0 && (
          <Button variant="outlined" color="inherit" onClick={() => setOpen(true)}>
            {STRETCH.setAside(left.length)}
          </Button>
        )
      )}
    </Box>
  );
}
