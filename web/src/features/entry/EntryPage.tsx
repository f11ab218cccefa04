import { Box, Button, Link, Paper, Stack, Typography, useMediaQuery } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link as RouterLink, Navigate, useNavigate, useParams } from 'react-router';
import type { ChartView } from '../../api/chart';
import { queries } from '../../api/queries';
import { ControlChart } from '../../chart/ControlChart';
import { fromView } from '../../chart/fromView';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { KeyHints } from '../../ui/KeyHints';
import { useKeys } from '../../ui/useKeys';
import { Loaded } from '../../ui/States';
import { ENTRY, ENTRY_KEYS, lastSample, savedInWords } from '../../words/entry';
import { pieceOf, refusals } from '../../words/failures';
import { taking } from '../../words/samples';
import { useMay, useMayAt } from '../../session/session';
import { EpisodeAsks, OpenEpisodes } from '../signals';
import { mayBecomeNumber } from './draft';
import { EventFields } from './EventFields';
import { MoreFields } from './MoreFields';
import { NextDue } from './NextDue';
import { Foresight, Questions, SampleBefore } from './Questions';
import { ReadingFields } from './ReadingFields';
import { SkipSample } from './SkipSample';
import { Tally } from './Tally';
import { type Before, type EntryState, useEntry } from './useEntry';

/** Wide enough for two columns, and not high enough for a chart below the fields. */
const LOW = '(max-height: 520px) and (min-width: 600px)';

export default function EntryPage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.entry(id));
  return (
    <Loaded query={query} what={ENTRY.characteristic}>
      {(view) =>
        view.characteristic.analyte == null ? <Entry key={id} view={view} /> : <Navigate to="/lab" replace />
      }
    </Loaded>
  );
}

function Entry({ view }: { view: ChartView }) {
  const { characteristic: c } = view;
  const navigate = useNavigate();
  const role = useMay('enter_sample');
  const mayEnter = useMayAt('enter_sample', c.station_id);
  const fields = useRef<(HTMLInputElement | null)[]>([]);
  const [asking, setAsking] = useState<string[]>([]);
  const onDone = useCallback((done: Before) => {
    const episodes = done.kind === 'saved' ? done.saved.asking : [];
    setAsking(episodes);
    if (episodes.length === 0) fields.current[0]?.focus();
  }, []);
  const entry = useEntry(view, onDone);
  const model = useMemo(() => fromView(view), [view]);
  const pencil = useMemo(() => (entry.preview?.pencil ? entry.preview.pencil.panels : []), [entry.preview]);
  const [asks] = asking;
  // A screen that is enlarged twofold: the newest points stay beside what is typed.
  const low = useMediaQuery(LOW);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: low
          ? 'minmax(0, 2fr) minmax(0, 3fr)'
          : { xs: 'minmax(0, 1fr)', md: '384px minmax(0, 1fr)' },
        gap: 2,
        alignItems: 'start',
      }}
    >
      <Box>
        <Typography variant="h1">{c.name}</Typography>
        <Typography color="text.secondary" sx={{ mb: 1.5 }}>
          {c.product} · {c.station} · {taking(c, c.unit)}
        </Typography>
        {asks === undefined && <OpenEpisodes of={[c.id]} />}
        {!mayEnter && <Notice kind="caution">{role ? ENTRY.notYours : ENTRY.looksOnly}</Notice>}
        {mayEnter && asks === undefined && (
          <Readings entry={entry} view={view} fields={fields} onLeave={() => void navigate('/rounds')} />
        )}
        {entry.before?.kind === 'saved' && asks !== undefined && (
          <>
            <Notice kind="settled">{savedInWords(entry.before.saved)}</Notice>
            <EpisodeAsks
              key={asks}
              id={asks}
              onLater={() => setAsking([])}
              onAnswered={() => setAsking((all) => all.filter((id) => id !== asks))}
            />
          </>
        )}
      </Box>
      <Paper component="section" aria-label={ENTRY.chart} sx={{ p: 1.5, pt: 1, position: 'sticky', top: 12 }}>
        <ControlChart
          model={model}
          height={low ? 290 : 600}
          pencil={pencil}
          onOpenEpisode={(episode) => void navigate(`/signals/${episode}`)}
        />
        <Stack direction="row" sx={{ justifyContent: 'space-between', mt: 0.5 }}>
          <Typography color="text.secondary">{lastSample(view)}</Typography>
          <Link component={RouterLink} to={`/charts/${c.id}`}>
            {ENTRY.openWhole}
          </Link>
        </Stack>
      </Paper>
    </Box>
  );
}

function lastValues({ points }: ChartView): readonly (number | null)[] {
  const content = points.findLast((p) => p.gap == null)?.content;
  return content != null && 'readings' in content ? content.readings.values : [];
}

function Readings({
  entry,
  view,
  fields,
  onLeave,
}: {
  entry: EntryState;
  view: ChartView;
  fields: React.RefObject<(HTMLInputElement | null)[]>;
  onLeave: () => void;
}) {
  const { characteristic: c } = view;
  const { sending } = entry;
  // What cannot be measured shows as it is typed; what is no number yet may still become one.
  const typedAs = (piece: number) => entry.draft.readings[piece - 1] ?? '';
  const early = entry.previewFailure
    ? refusals(entry.previewFailure).filter((r) => r.code !== 'not_a_number' || !mayBecomeNumber(typedAs(r.piece)))
    : [];
  const refused = sending.kind === 'refused' ? refusals(sending.failure) : early;
  const measured = c.kind === 'measured';
  // Pieces show their own refusals; what belongs to no field on the screen is said here.
  const lastTaken = view.points.findLast((p) => p.gap == null);
  const general = refused.filter((r) => pieceOf(r) === null || (pieceOf(r) ?? 0) > entry.draft.readings.length);
  const touched = useMediaQuery('(pointer: coarse)');
  // The question is asked at the field it is about. Enter must not answer it: it was on its way already.
  const doubted =
    sending.kind === 'asked' ? sending.unusual[0]?.piece : sending.kind === 'blank' ? sending.pieces[0] : undefined;
  useEffect(() => {
    if (doubted === undefined) return;
    fields.current[doubted - 1]?.focus();
    fields.current[doubted - 1]?.select();
  }, [doubted, sending, fields]);
  const someBlank = sending.kind === 'blank' && sending.pieces.length < entry.draft.readings.length;
  useKeys((event) => {
    if (event.key === 'Enter' && event.altKey) entry.takeMeant();
    if (event.key !== 'Enter' || !event.ctrlKey) return;
    if (sending.kind === 'asked') entry.save(true);
    else if (someBlank) entry.leaveOut();
  });
  return (
    <Stack spacing={1.25}>
      {entry.before && (sending.kind === 'typing' || sending.kind === 'nothing') && (
        <SampleBefore before={entry.before} />
      )}
      {entry.draft.takenAt !== null && <Notice kind="caution">{ENTRY.firstTaken(entry.draft.takenAt)}</Notice>}
      {measured ? (
        <ReadingFields
          entry={entry}
          place={{ station: c.station_id, characteristic: c.id }}
          before={lastValues(view)}
          unit={c.unit}
          decimals={c.decimals}
          fields={fields}
          refused={refused}
          onLeave={onLeave}
        />
      ) : c.kind === 'rare_event' ? (
        <EventFields key={entry.draft.entry} entry={entry} characteristic={c} onLeave={onLeave} />
      ) : (
        <Tally key={entry.draft.entry} entry={entry} view={view} onLeave={onLeave} />
      )}
      <MoreFields entry={entry} components={c.components} parts={c.parts} />
      {/* A reading that is doubted foretells nothing. */}
      {sending.kind !== 'asked' && <Foresight entry={entry} />}
      <Questions entry={entry} characteristic={c} someBlank={someBlank} />
      {sending.kind === 'refused' && (refused.length === 0 || general.length > 0) && <Failed why={sending.failure} />}
      {!(measured && touched) && (
        <Button
          variant="contained"
          size="large"
          disabled={sending.kind === 'sending'}
          onClick={() => entry.save()}
          sx={{ minHeight: 54 }}
        >
          {ENTRY.save}
        </Button>
      )}
      {!touched && (
        <Typography color="text.secondary" variant="body2">
          <KeyHints hints={ENTRY_KEYS[measured ? 'measured' : c.kind === 'rare_event' ? 'event' : 'counted']} />
        </Typography>
      )}
      {sending.kind === 'typing' && <NextDue here={c.id} />}
      {sending.kind === 'typing' && (
        <Stack direction="row" sx={{ flexWrap: 'wrap', columnGap: 1 }}>
          {c.kind !== 'rare_event' && <SkipSample characteristic={c.id} name={c.name} onSkipped={onLeave} />}
          {lastTaken && (
            <Button
              color="inherit"
              component={RouterLink}
              to={`/charts/${c.id}?sample=${lastTaken.number}&correct=1`}
              sx={{ minHeight: 48 }}
            >
              {ENTRY.correctLast}
            </Button>
          )}
        </Stack>
      )}
    </Stack>
  );
}
