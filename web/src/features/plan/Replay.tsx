import { Box, MenuItem, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useWatch } from 'react-hook-form';
import { answered, api, type NamedRuleSet } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { REPLAY, replayInWords } from '../../words/ruleSets';
import { ruleSetOf, type SetUpForm } from './form';
import { number } from './typed';

const WEEK_MS = 7 * 86_400_000;

/** What the chosen rules would have found, missed and spared of what this characteristic went through. */
export function Replay({
  form: { control },
  characteristic,
  sets,
}: {
  form: SetUpForm;
  characteristic: string;
  sets: readonly NamedRuleSet[];
}) {
  const [weeks, setWeeks] = useState(8);
  const [now] = useState(() => Date.now());
  const [k, preset, rules] = useWatch({ control, name: ['k', 'preset', 'rules'] });
  const asked = {
    rule_set: ruleSetOf({ preset, rules }, sets),
    k: number(k) ?? 0,
    since: new Date(now - weeks * WEEK_MS).toISOString(),
  };
  const complete = asked.k > 0 && (!('list' in asked.rule_set) || asked.rule_set.list.length > 0);
  const query = useQuery({
    queryKey: queries.replay(characteristic, asked),
    queryFn: ({ signal }) =>
      answered(
        api.POST('/api/characteristics/{id}/replay', { params: { path: { id: characteristic } }, body: asked, signal }),
      ),
    enabled: complete,
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  if (!complete) return null;
  return (
    <Box component="section" aria-label={REPLAY.title} sx={{ gridColumn: '1 / -1' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap', mb: 0.5 }}>
        <Typography variant="h3">{REPLAY.title}</Typography>
        <TextField
          select
          size="small"
          label={REPLAY.since}
          value={weeks}
          sx={{ width: 170 }}
          onChange={(event) => setWeeks(Number(event.target.value))}
        >
          {Object.entries(REPLAY.weeks).map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      <Failed why={query.error} />
      {query.data && replayInWords(query.data).map((sentence) => <Typography key={sentence}>{sentence}</Typography>)}
    </Box>
  );
}
