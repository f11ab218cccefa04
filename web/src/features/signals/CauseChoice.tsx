import { FormControl, FormControlLabel, FormHelperText, FormLabel, Radio, RadioGroup, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { type Control, useController } from 'react-hook-form';
import type { Cause } from '../../api/client';
import { queries } from '../../api/queries';
import { CAUSE_GROUPS, NO_GROUP } from '../../words/causes';
import { ANSWER } from '../../words/signalPages';
import { type AnswerDraft, NOTHING, OTHER } from './answerDraft';

/** The cause: what was named most often here first, group by group; then one in words, or nothing found. */
export function CauseChoice({ characteristic, control }: { characteristic: string; control: Control<AnswerDraft> }) {
  const causes = useQuery(queries.causes(characteristic)).data ?? [];
  const {
    field: { ref, ...field },
    fieldState: { error },
  } = useController({ control, name: 'cause' });
  const groups = inGroups(causes);
  const first = causes[0]?.id ?? OTHER;
  const choice = ({ id, name }: { id: string; name: string }) => (
    <FormControlLabel
      key={id}
      value={id}
      label={name}
      control={<Radio slotProps={{ input: id === first ? { ref } : {} }} />}
      sx={{ minHeight: 48, mr: 0 }}
    />
  );
  return (
    <FormControl error={error !== undefined}>
      <FormLabel id="cause">{ANSWER.cause}</FormLabel>
      <RadioGroup
        aria-labelledby="cause"
        {...field}
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(165px, 1fr))', columnGap: 1 }}
      >
        {groups.map(([group, of]) => [
          <Typography key={group ?? ''} color="text.secondary" variant="body2" sx={{ gridColumn: '1 / -1', mt: 0.5 }}>
            {group ? CAUSE_GROUPS[group] : NO_GROUP}
          </Typography>,
          ...of.map(choice),
        ])}
        {groups.length > 0 && (
          <Typography color="text.secondary" variant="body2" sx={{ gridColumn: '1 / -1', mt: 0.5 }}>
            {ANSWER.orElse}
          </Typography>
        )}
        {choice({ id: OTHER, name: ANSWER.another })}
        {choice({ id: NOTHING, name: ANSWER.nothing })}
      </RadioGroup>
      {error && <FormHelperText>{error.message}</FormHelperText>}
    </FormControl>
  );
}

/** In the order in which groups come first; what is in none comes last. */
function inGroups(causes: readonly Cause[]): [Cause['group'], Cause[]][] {
  const groups = new Map<Cause['group'], Cause[]>();
  for (const cause of causes) groups.set(cause.group ?? null, [...(groups.get(cause.group ?? null) ?? []), cause]);
  return [...groups].sort(([a], [b]) => Number(a == null) - Number(b == null));
}
