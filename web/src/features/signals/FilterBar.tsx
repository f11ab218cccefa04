import { Box, Button, Chip, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import type { Options } from '../../ui/fields';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import { anyOf } from '../../ui/narrowing';
import { type Changes, without } from '../../ui/useAddress';
import { useMay, useOwnStations } from '../../session/session';
import { WHOSE } from '../../words/people';
import { RULES_BROKEN } from '../../words/setUpForm';
import { FILTER } from '../../words/signalPages';
import { type Narrow, NARROWS } from './filter';

/** Narrows the list; the address holds it, so that it can be sent and kept. */
export function FilterBar({ params, onNarrow }: { params: URLSearchParams; onNarrow: (changes: Changes) => void }) {
  const plan = useQuery(queries.plan).data;
  const causes = useQuery(queries.causeCatalogue).data;
  const people = useQuery({ ...queries.people, enabled: useMay('look') }).data;
  const own = useOwnStations();
  const set = (by: Narrow, to: string) => onNarrow({ [by]: to });
  const pick = (by: Narrow, label: string, options: Options<string>) => (
    <Pick label={label} value={params.get(by) ?? ''} options={options} onPick={(to) => set(by, to)} />
  );
  const day = (by: 'from' | 'until', label: string) => (
    <DayPick label={label} value={params.get(by) ?? ''} onPick={(to) => set(by, to)} />
  );
  return (
    <Box component="section" aria-label={FILTER.title}>
      <Box sx={{ display: 'flex', gap: 1.25, rowGap: 1.5, flexWrap: 'wrap', my: 1 }}>
        {own !== null &&
          pick('everywhere', WHOSE.label, [
            ['', WHOSE.mine],
            ['true', WHOSE.all],
          ])}
        {pick('laboratory', FILTER.where, [
          ['', FILTER.any],
          ['false', FILTER.floor],
          ['true', FILTER.laboratory],
        ])}
        {pick('area', FILTER.area, anyOf(plan?.areas))}
        {pick('station', FILTER.station, anyOf(plan?.stations))}
        {pick('product', FILTER.product, anyOf(plan?.products))}
        {pick('rule', FILTER.rule, [['', FILTER.any], ...Object.entries(RULES_BROKEN)])}
        {pick('cause', FILTER.cause, anyOf(causes))}
        {people && pick('person', FILTER.person, anyOf(people))}
        {pick('trial', FILTER.limits, [
          ['', FILTER.any],
          ['false', FILTER.inForce],
          ['true', FILTER.onTrial],
        ])}
        {pick('escalated', FILTER.escalated, [
          ['', FILTER.any],
          ['true', FILTER.openTooLong],
        ])}
        {day('from', FILTER.from)}
        {day('until', FILTER.until)}
        {NARROWS.some((by) => params.has(by)) && (
          <Button color="inherit" onClick={() => onNarrow(without(NARROWS))}>
            {FILTER.clear}
          </Button>
        )}
      </Box>
      <KeptFilters params={params} onNarrow={onNarrow} />
    </Box>
  );
}

/** Filters that this person has kept, a tap each. */
function KeptFilters({ params, onNarrow }: { params: URLSearchParams; onNarrow: (changes: Changes) => void }) {
  const client = useQueryClient();
  const kept = useQuery(queries.filters).data ?? [];
  const [name, setName] = useState('');
  const again = () => client.invalidateQueries({ queryKey: queries.filters.queryKey });
  const keep = useMutation({
    mutationFn: () => answered(api.POST('/api/me/filters', { body: { name: name.trim(), query: params.toString() } })),
    onSuccess: async () => {
      setName('');
      await again();
    },
  });
  const forget = useMutation({
    mutationFn: (id: string) => answered(api.DELETE('/api/me/filters/{id}', { params: { path: { id } } })),
    onSuccess: again,
  });
  const now = params.toString();
  return (
    <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'center', mb: 1 }}>
      {kept.length > 0 && <Typography color="text.secondary">{FILTER.saved}</Typography>}
      {kept.map(({ id, name, query }) => (
        <Chip
          key={id}
          label={name}
          variant={query === now ? 'filled' : 'outlined'}
          onClick={() =>
            onNarrow({ ...without([...params.keys()]), ...Object.fromEntries(new URLSearchParams(query)) })
          }
          onDelete={() => forget.mutate(id)}
          slotProps={{ label: { 'aria-current': query === now } }}
        />
      ))}
      {now !== '' && !kept.some(({ query }) => query === now) && (
        <Stack
          component="form"
          direction="row"
          sx={{ gap: 1, alignItems: 'center' }}
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate();
          }}
        >
          <TextField
            size="small"
            fullWidth={false}
            label={FILTER.keepAs}
            value={name}
            slotProps={{ htmlInput: { maxLength: 80 } }}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" color="inherit" variant="outlined" disabled={name.trim() === '' || keep.isPending}>
            {FILTER.keep}
          </Button>
        </Stack>
      )}
      <Failed why={keep.error ?? forget.error} />
    </Stack>
  );
}
