import { Box, Button, Stack, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type ChartView } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Notice } from '../../ui/Notice';
import { sentenceFor } from '../../words/failures';
import { figure } from '../../words/numbers';
import { when } from '../../words/time';

type Point = ChartView['points'][number];
type Setup = ChartView['characteristic'];

/** A kind that can be counted, with what stands in its field. */
interface Count {
  kind: string | null;
  word: string | null;
  name: string;
  text: string;
}

/** What stands in the fields: a text for each piece, or the number inspected and a count for each kind. */
interface Fields {
  readings: string[];
  inspected: string;
  counts: Count[];
}

function fieldsOf({ content }: Point, c: Setup): Fields {
  if (content != null && 'readings' in content) {
    return { readings: content.readings.values.map((r) => (r == null ? '' : figure(r, c.decimals))), inspected: '', counts: [] };
  }
  const defects = content?.counts.defects ?? [];
  const found = (id: string) => defects.find((d) => d.kind === id)?.count ?? 0;
  return {
    readings: [],
    inspected: String(content?.counts.inspected ?? ''),
    // The whole catalogue, so that a kind can be added, and the other words that were counted.
    counts: [
      ...c.defect_kinds.map(({ id, name }) => ({ kind: id, word: null, name, text: String(found(id)) })),
      ...defects.flatMap(({ kind, word, count }) => (kind == null ? [{ kind: null, word: word ?? '', name: word ?? '', text: String(count) }] : [])),
    ],
  };
}

/** Pieces, from 1, that are cleared but were not left out before. */
function cleared({ content }: Point, fields: Fields): number[] {
  const before = content != null && 'readings' in content ? content.readings.values : [];
  return fields.readings.flatMap((text, i) => (text.trim() === '' && before[i] != null ? [i + 1] : []));
}

/** The sample as the server reads it; a piece without a reading is left out on purpose. */
function corrected({ content, tags }: Point, c: Setup, fields: Fields) {
  const asked = Object.fromEntries(Object.entries(tags).filter(([name]) => c.asked_tags.includes(name)));
  if (content != null && 'readings' in content) {
    const components = content.readings.components.map((x) => (x == null ? '' : figure(x, c.decimals)));
    const left_out = fields.readings.flatMap((text, i) => (text.trim() === '' ? [i + 1] : []));
    return { readings: fields.readings, components, left_out, inspected: null, defects: [], tags: asked };
  }
  const defects = fields.counts.map(({ kind, word, text }) => ({ kind, word, count: Number(text) })).filter((d) => d.count !== 0);
  return { readings: [], components: [], left_out: [], inspected: fields.inspected, defects, tags: asked };
}

/** Corrects a sample or withdraws it, with a reason; what stood there before stays on record. */
export function ChangeForm({ view, point, onDone }: { view: ChartView; point: Point; onDone: () => void }) {
  const client = useQueryClient();
  const { characteristic: c } = view;
  const [fields, setFields] = useState(() => fieldsOf(point, c));
  const [reason, setReason] = useState('');
  const [confirmed, setConfirmed] = useState(false);
  const [failure, setFailure] = useState<unknown>(null);
  // Pieces that will be left out, once that was said.
  const [leaving, setLeaving] = useState<number[]>([]);
  const setReading = (place: number, text: string) => {
    setLeaving([]);
    setFields((f) => ({ ...f, readings: f.readings.map((old, i) => (i === place ? text : old)) }));
  };
  const setCount = (place: number, text: string) =>
    setFields((f) => ({ ...f, counts: f.counts.map((old, i) => (i === place ? { ...old, text } : old)) }));
  const unreadable = fields.counts.filter(({ text }) => !/^\d{1,7}$/.test(text.trim()));
  const act = async (call: Promise<unknown>) => {
    setFailure(null);
    try {
      await call;
      await touch(client, { kind: 'sample', characteristic: c.id });
      onDone();
    } catch (error) {
      setFailure(error);
    }
  };
  const path = { id: point.sample };
  const asks = isFailure(failure, 'confirm_readings');
  const correct = (sure: boolean, without: readonly number[]) => {
    const blank = cleared(point, fields);
    if (unreadable.length > 0) return;
    if (blank.length > without.length) {
      setLeaving(blank);
      return;
    }
    setConfirmed(sure);
    const body = { version: point.version, reason, confirmed: sure, sample: corrected(point, c, fields) };
    void act(answered(api.POST('/api/samples/{id}/corrections', { params: { path }, body })));
  };
  return (
    <Stack
      component="form"
      aria-label="Change the sample"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        onDone();
      }}
      spacing={1}
      sx={{ mt: 2 }}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        correct(confirmed, []);
      }}
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, 1fr)', gap: 1 }}>
        {fields.readings.map((text, i) => (
          <TextField key={i} autoFocus={i === 0} label={`Piece ${i + 1}, ${c.unit}`} value={text} slotProps={{ htmlInput: { inputMode: 'decimal' } }} onChange={(e) => setReading(i, e.target.value)} />
        ))}
        {c.kind !== 'measured' && (
          <TextField
            autoFocus
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
            label={`Inspected ${c.unit}`}
            value={fields.inspected}
            onChange={(e) => setFields((f) => ({ ...f, inspected: e.target.value }))}
          />
        )}
        {fields.counts.map((count, i) => (
          <TextField
            key={count.kind ?? count.name}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
            label={count.name}
            value={count.text}
            error={unreadable.includes(count)}
            helperText={unreadable.includes(count) ? 'A whole number is needed.' : undefined}
            onChange={(e) => setCount(i, e.target.value)}
          />
        ))}
      </Box>
      <TextField label="Why it is changed" value={reason} onChange={(e) => setReason(e.target.value)} />
      {failure != null && !asks && <Notice kind="problem">{sentenceFor(failure)}</Notice>}
      {leaving.length > 0 && !asks && (
        <Notice kind="caution">
          {leaving.length === 1 ? `Piece ${leaving[0] ?? ''} has` : `Pieces ${leaving.join(', ')} have`} no reading any more.{' '}
          <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => correct(confirmed, leaving)}>Leave out on purpose</Button>
        </Notice>
      )}
      {asks && (
        <Notice kind="caution">
          A reading is unusual here.{' '}
          <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => correct(true, leaving)}>Keep it, measured so</Button>
        </Notice>
      )}
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', rowGap: 1 }}>
        <Button type="submit" variant="contained" sx={{ minHeight: 48 }}>Save correction</Button>
        <Button
          variant="outlined"
          color="inherit"
          sx={{ minHeight: 48 }}
          onClick={() => void act(answered(api.POST('/api/samples/{id}/withdrawal', { params: { path }, body: { version: point.version, reason } })))}
        >
          Withdraw the sample
        </Button>
        <Button color="inherit" sx={{ minHeight: 48 }} onClick={onDone}>Back</Button>
      </Stack>
    </Stack>
  );
}

/** What a corrected sample recorded before, and who changed it why. */
export function Earlier({ sample, version }: { sample: string; version: number }) {
  const query = useQuery(queries.corrections(sample, version));
  return (
    <>
      {query.data?.map((correction) => (
        <Typography key={correction.at} color="text.secondary" variant="body2">
          Corrected by {correction.person}, {when(correction.at)}: {correction.reason}. It said {before(correction.old)}.
        </Typography>
      ))}
    </>
  );
}

function before(old: Record<string, unknown>): string {
  if (Array.isArray(old.readings)) return old.readings.map((r) => (r == null ? '–' : String(r))).join('  ');
  return `${String(old.count)} in ${String(old.inspected)}`;
}
