import { Box, Button, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useFieldArray, useForm, useWatch } from 'react-hook-form';
import type { ChartPoint, ChartView } from '../../api/chart';
import { answered, api } from '../../api/client';
import { isFailure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { NOTHING_TYPED } from '../../api/typed';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { correctedInWords, POINT } from '../../words/charts';
import { figure } from '../../words/numbers';

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
  between: string;
  counts: Count[];
  reason: string;
}

function fieldsOf({ content }: ChartPoint, c: Setup): Fields {
  if (content != null && 'readings' in content) {
    return {
      readings: content.readings.values.map((r) => (r == null ? '' : figure(r, c.decimals))),
      inspected: '',
      between: '',
      counts: [],
      reason: '',
    };
  }
  if (content != null && 'event' in content)
    return { readings: [], inspected: '', between: String(content.event.between ?? ''), counts: [], reason: '' };
  const defects = content?.counts.defects ?? [];
  const found = (id: string) => defects.find((d) => d.kind === id)?.count ?? 0;
  return {
    readings: [],
    between: '',
    reason: '',
    inspected: String(content?.counts.inspected ?? ''),
    // The whole catalogue, so that a kind can be added, and the other words that were counted.
    counts: [
      ...c.defect_kinds.map(({ id, name }) => ({ kind: id, word: null, name, text: String(found(id)) })),
      ...defects.flatMap(({ kind, word, count }) =>
        kind == null ? [{ kind: null, word: word ?? '', name: word ?? '', text: String(count) }] : [],
      ),
    ],
  };
}

/** Pieces, from 1, that are cleared but were not left out before. */
function cleared({ content }: ChartPoint, fields: Fields): number[] {
  const before = content != null && 'readings' in content ? content.readings.values : [];
  return fields.readings.flatMap((text, i) => (text.trim() === '' && before[i] != null ? [i + 1] : []));
}

/** The sample as the server reads it; a piece without a reading is left out on purpose. */
function corrected({ content, tags }: ChartPoint, c: Setup, fields: Fields) {
  const asked = Object.fromEntries(Object.entries(tags).filter(([name]) => [...c.asked_tags, 'part'].includes(name)));
  if (content != null && 'readings' in content) {
    const components = content.readings.components.map((x) => (x == null ? '' : figure(x, c.decimals)));
    const left_out = fields.readings.flatMap((text, i) => (text.trim() === '' ? [i + 1] : []));
    return { ...NOTHING_TYPED, readings: fields.readings, components, left_out, tags: asked };
  }
  if (content != null && 'event' in content)
    return { ...NOTHING_TYPED, between: c.chart === 'g' ? fields.between : null, tags: asked };
  const defects = fields.counts
    .map(({ kind, word, text }) => ({ kind, word, count: Number(text) }))
    .filter((d) => d.count !== 0);
  return { ...NOTHING_TYPED, inspected: fields.inspected, defects, tags: asked };
}

/** Corrects a sample or withdraws it, with a reason; what stood there before stays on record. */
export function ChangeForm({ view, point, onDone }: { view: ChartView; point: ChartPoint; onDone: () => void }) {
  const client = useQueryClient();
  const { characteristic: c } = view;
  const { control, handleSubmit, getValues, setError } = useForm<Fields>({ defaultValues: fieldsOf(point, c) });
  const { fields: counts } = useFieldArray({ control, name: 'counts' });
  const [confirmed, setConfirmed] = useState(false);
  // Pieces that will be left out, once that was said; a piece that is typed again asks anew.
  const [leaving, setLeaving] = useState<{ pieces: readonly number[]; of: string }>({ pieces: [], of: '' });
  const readings = useWatch({ control, name: 'readings' });
  const pieces = leaving.of === readings.join(' ') ? leaving.pieces : [];
  const path = { id: point.sample };
  const change = useMutation({
    mutationFn: async (call: () => Promise<unknown>) => {
      await call();
      await touch(client, { kind: 'sample', characteristic: c.id });
      onDone();
    },
  });
  const correct = (sure: boolean, without: readonly number[]) =>
    handleSubmit((fields) => {
      const unreadable = fields.counts.flatMap(({ text }, i) => (/^\d{1,7}$/.test(text.trim()) ? [] : [i]));
      unreadable.forEach((i) => setError(`counts.${i}.text`, { message: POINT.wholeNumber }));
      if (unreadable.length > 0) return;
      const blank = cleared(point, fields);
      if (blank.length > without.length) {
        setLeaving({ pieces: blank, of: fields.readings.join(' ') });
        return;
      }
      setConfirmed(sure);
      const body = {
        version: point.version,
        reason: fields.reason,
        confirmed: sure,
        sample: corrected(point, c, fields),
      };
      change.mutate(() => answered(api.POST('/api/samples/{id}/corrections', { params: { path }, body })));
    })();
  const withdraw = () => {
    const body = { version: point.version, reason: getValues('reason') };
    change.mutate(() => answered(api.POST('/api/samples/{id}/withdrawal', { params: { path }, body })));
  };
  const asks = isFailure(change.error, 'confirm_readings');
  return (
    <Stack
      component="form"
      aria-label={POINT.changeForm}
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
        // Of an event that is known by its time nothing can be corrected.
        if (c.chart !== 't') void correct(confirmed, []);
      }}
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, 1fr)', gap: 1 }}>
        {readings.map((_, i) => (
          <TextInput
            key={i}
            control={control}
            name={`readings.${i}`}
            autoFocus={i === 0}
            label={POINT.piece(i + 1, c.unit)}
            keys="decimal"
          />
        ))}
        {c.kind === 'rare_event' && c.chart === 'g' && (
          <TextInput control={control} name="between" autoFocus label={POINT.between(c.unit)} keys="numeric" />
        )}
        {(c.kind === 'nonconforming_units' || c.kind === 'nonconformities') && (
          <TextInput control={control} name="inspected" autoFocus label={POINT.inspected(c.unit)} keys="numeric" />
        )}
        {counts.map((count, i) => (
          <TextInput key={count.id} control={control} name={`counts.${i}.text`} label={count.name} keys="numeric" />
        ))}
      </Box>
      {c.chart === 't' && <Typography color="text.secondary">{POINT.timeStays}</Typography>}
      <TextInput control={control} name="reason" label={POINT.why} />
      {!asks && <Failed why={change.error} />}
      {pieces.length > 0 && !asks && (
        <Notice kind="caution">
          {POINT.noReading(pieces)}{' '}
          <Button
            variant="outlined"
            color="inherit"
            sx={{ minHeight: 48 }}
            onClick={() => void correct(confirmed, pieces)}
          >
            {POINT.leaveOut}
          </Button>
        </Notice>
      )}
      {asks && (
        <Notice kind="caution">
          {POINT.unusual}{' '}
          <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => void correct(true, pieces)}>
            {POINT.keepIt}
          </Button>
        </Notice>
      )}
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap' }}>
        {c.chart !== 't' && (
          <Button type="submit" variant="contained" sx={{ minHeight: 48 }}>
            {POINT.save}
          </Button>
        )}
        <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={withdraw}>
          {POINT.withdraw}
        </Button>
        <Button color="inherit" sx={{ minHeight: 48 }} onClick={onDone}>
          {POINT.back}
        </Button>
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
          {correctedInWords(correction)}
        </Typography>
      ))}
    </>
  );
}
