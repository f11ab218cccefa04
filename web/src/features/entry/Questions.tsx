import { Button, Link, Stack, Typography } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { ChartView } from '../../api/chart';
import { useOutbox } from '../../outbox/Outbox';
import { Notice } from '../../ui/Notice';
import { ENTRY, savedInWords } from '../../words/entry';
import { whyWaiting } from '../../words/failures';
import { spanLabel } from '../../words/signals';
import type { Before, EntryState } from './useEntry';

/** What is asked before a sample is saved. */
export function Questions({
  entry,
  characteristic,
  someBlank,
}: {
  entry: EntryState;
  characteristic: ChartView['characteristic'];
  /** Some pieces have readings, so that the others can be left out. */
  someBlank: boolean;
}) {
  const { sending } = entry;
  const meant = sending.kind === 'asked' ? sending.unusual.flatMap((u) => u.likely ?? []) : [];
  return (
    <>
      {sending.kind === 'asked' && (
        <Notice kind="caution">
          {sending.unusual.map((u) => (
            <Typography key={u.piece}>{ENTRY.unusual(u, characteristic)}</Typography>
          ))}
          <Typography color="text.secondary">{ENTRY.typeAgainOr}</Typography>
          <Stack direction="row" sx={{ gap: 1, mt: 0.5, flexWrap: 'wrap' }}>
            {meant.length > 0 && (
              <Button variant="contained" sx={{ minHeight: 48 }} onClick={entry.takeMeant}>
                {ENTRY.meant(meant, characteristic.unit)}&ensp;<kbd>Alt Enter</kbd>
              </Button>
            )}
            <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => entry.save(true)}>
              {ENTRY.keepIt}&ensp;<kbd>Ctrl Enter</kbd>
            </Button>
          </Stack>
        </Notice>
      )}
      {sending.kind === 'blank' && (
        <Notice kind="caution">
          {ENTRY.noReading(sending.pieces)}
          {someBlank && (
            <Button
              variant="outlined"
              color="inherit"
              sx={{ mt: 1, display: 'block', minHeight: 48 }}
              onClick={entry.leaveOut}
            >
              {ENTRY.leaveOut}&ensp;<kbd>Ctrl Enter</kbd>
            </Button>
          )}
        </Notice>
      )}
      {sending.kind === 'nothing' && (
        <Notice kind="caution">
          {ENTRY.nothingCounted} <kbd>0</kbd>
        </Notice>
      )}
    </>
  );
}

/** What became of the sample before. */
export function SampleBefore({ before }: { before: Before }) {
  const { waiting } = useOutbox();
  if (before.kind === 'waiting') {
    if (!waiting.some((w) => w.entry === before.entry)) return <Notice kind="settled">{ENTRY.hasGone}</Notice>;
    return (
      <Notice kind="caution">
        {whyWaiting(before.failure)} {ENTRY.isKept}{' '}
        <Link component={RouterLink} to="/waiting">
          {ENTRY.seeWaiting}
        </Link>
      </Notice>
    );
  }
  return <Notice kind="settled">{savedInWords(before.saved)}</Notice>;
}

/** What the readings typed so far would do. */
export function Foresight({ entry }: { entry: EntryState }) {
  const findings = entry.preview?.pencil?.findings ?? [];
  const { soFar } = entry;
  if (findings.length === 0) {
    return soFar && entry.preview?.pencil ? (
      <Typography color="text.secondary" role="status">
        {ENTRY.pencilOf(soFar.typed, soFar.of)}
      </Typography>
    ) : null;
  }
  return <Notice kind="caution">{ENTRY.wouldBreak(findings.map((f) => spanLabel(f.rule, f.side, f.panel)))}</Notice>;
}
