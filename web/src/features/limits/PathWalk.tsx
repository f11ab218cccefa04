import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { type KeyboardEvent, useRef, useState } from 'react';
import type { LimitsView, PathPoint } from '../../api/client';
import { POINTS_AT_MOST, queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { KeyHints } from '../../ui/KeyHints';
import { Notice } from '../../ui/Notice';
import { useKeys } from '../../ui/useKeys';
import { POINT } from '../../words/charts';
import { broken, PATH_KEYS, PATH_POINTS, POINT_DEEDS } from '../../words/limits';
import { useLimitsChange } from '../points';
import { Known } from './Known';

/** The points that break rules, one after another, with everything known about them. */
export function PathWalk({
  view,
  findings,
  place,
  onPlace,
}: {
  view: LimitsView;
  findings: readonly PathPoint[];
  place: number;
  onPlace: (place: number) => void;
}) {
  const id = view.characteristic.id;
  const maySetAside = useMay('set_aside');
  const chart = useQuery(queries.chart(id, { last: POINTS_AT_MOST }));
  const causes = useQuery(queries.causes(id));
  const change = useLimitsChange(id);
  // What was looked at and kept; nothing of it changes limits, so it need not be recorded.
  const [kept, setKept] = useState<ReadonlySet<string>>(new Set());
  const [words, setWords] = useState('');
  const [begun, setBegun] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const finding = findings[place];
  const point = chart.data?.points.find((p) => p.sample === finding?.sample);
  const aside = finding?.broken.length === 0;
  const named = causes.data ?? [];
  const go = (to: number) => {
    change.reset();
    setWords('');
    setBegun(false);
    onPlace(Math.min(findings.length - 1, Math.max(0, to)));
  };
  const setAside = (cause: string | null, text: string | null) => {
    if (finding === undefined) return;
    change.mutate(
      { change: 'set_aside', sample: finding.sample, cause, cause_text: text },
      {
        onSuccess: () => {
          setWords('');
          setBegun(false);
        },
      },
    );
  };
  const takeBack = () => {
    if (finding !== undefined) change.mutate({ change: 'take_back', sample: finding.sample });
  };
  const keep = () => {
    if (finding === undefined) return;
    setKept(new Set([...kept, finding.sample]));
    go(place + 1);
  };
  useKeys((event) => {
    const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [role="combobox"]');
    if (finding === undefined || typing || event.ctrlKey || event.metaKey || event.altKey) return;
    const digit = /^[1-9]$/.test(event.key) ? named[Number(event.key) - 1] : undefined;
    const keys: Record<string, () => void> = {
      n: () => go(place + 1),
      p: () => go(place - 1),
      k: keep,
      ...(maySetAside && aside && { t: takeBack }),
      ...(maySetAside && !aside && { w: () => field.current?.focus() }),
    };
    const act =
      digit !== undefined && maySetAside && !aside ? () => setAside(digit.id, null) : keys[event.key.toLowerCase()];
    if (act) {
      event.preventDefault();
      act();
    }
  });
  if (finding === undefined) {
    return (
      <Paper component="section" aria-label={PATH_POINTS.title} sx={{ p: 2 }}>
        <Typography variant="h2">{PATH_POINTS.title}</Typography>
        <Typography sx={{ mt: 1 }}>{PATH_POINTS.none}</Typography>
      </Paper>
    );
  }
  const left = findings.filter((f) => f.broken.length > 0 && !kept.has(f.sample)).length;
  const onWords = (event: KeyboardEvent) => {
    if (event.key === 'Enter') {
      event.preventDefault();
      setBegun(true);
      if (words.trim() !== '') setAside(null, words.trim());
    }
    if (event.key === 'Escape') field.current?.blur();
  };
  return (
    <Paper component="section" aria-label={PATH_POINTS.title} sx={{ p: 2 }}>
      <Typography variant="h2">{PATH_POINTS.title}</Typography>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1, my: 1 }}>
        <Button color="inherit" variant="outlined" disabled={place === 0} onClick={() => go(place - 1)}>
          {PATH_POINTS.previous}
        </Button>
        <Typography aria-live="polite" sx={{ flex: 1, textAlign: 'center' }}>
          {PATH_POINTS.place(place + 1, findings.length)}
        </Typography>
        <Button
          color="inherit"
          variant="outlined"
          disabled={place === findings.length - 1}
          onClick={() => go(place + 1)}
        >
          {PATH_POINTS.next}
        </Button>
      </Stack>
      <Typography color="text.secondary">{PATH_POINTS.left(left)}</Typography>
      <Typography component="h3" sx={{ mt: 1.5, fontWeight: 600, fontSize: '1.15rem' }}>
        {POINT.sample(finding.number)}
      </Typography>
      {finding.broken.map((b) => (
        <Typography key={`${b.panel} ${broken(b)}`}>
          <Box component="span" aria-hidden sx={{ color: 'error.main' }}>
            ▬{' '}
          </Box>
          {broken(b)}
        </Typography>
      ))}
      {chart.data && point && <Known view={chart.data} point={point} />}
      {point?.aside != null && (
        <Notice kind="caution">{POINT_DEEDS.isAside(point.aside.person, point.aside.at, point.aside.because)}</Notice>
      )}
      {kept.has(finding.sample) && !aside && <Notice kind="settled">{PATH_POINTS.kept}</Notice>}
      <Failed why={change.error} />
      {aside && maySetAside && (
        <Button variant="contained" sx={{ mt: 1.5, minHeight: 48 }} disabled={change.isPending} onClick={takeBack}>
          {PATH_POINTS.takeBack}
        </Button>
      )}
      {!aside && (
        <Stack spacing={1} sx={{ mt: 1.5 }}>
          {maySetAside && (
            <>
              <Typography sx={{ fontWeight: 600 }}>{PATH_POINTS.asideWith}</Typography>
              {named.slice(0, 9).map((cause, i) => (
                <Button
                  key={cause.id}
                  color="inherit"
                  variant="outlined"
                  disabled={change.isPending}
                  sx={{ justifyContent: 'flex-start', textAlign: 'left' }}
                  onClick={() => setAside(cause.id, null)}
                >
                  <Box component="kbd" sx={{ mr: 1 }}>
                    {i + 1}
                  </Box>
                  {cause.name}
                </Button>
              ))}
              <TextField
                inputRef={field}
                size="small"
                label={PATH_POINTS.inWords}
                value={words}
                error={begun && words.trim() === ''}
                helperText={begun && words.trim() === '' ? PATH_POINTS.sayCause : undefined}
                onChange={(event) => setWords(event.target.value)}
                onKeyDown={onWords}
              />
            </>
          )}
          <Stack direction="row" spacing={1}>
            {maySetAside && words.trim() !== '' && (
              <Button variant="contained" disabled={change.isPending} onClick={() => setAside(null, words.trim())}>
                {PATH_POINTS.setAside}
              </Button>
            )}
            <Button color="inherit" variant="outlined" onClick={keep}>
              {PATH_POINTS.keep}
            </Button>
          </Stack>
        </Stack>
      )}
      <Typography color="text.secondary" variant="body2" sx={{ mt: 1.5 }}>
        <KeyHints hints={PATH_KEYS} />
      </Typography>
    </Paper>
  );
}
