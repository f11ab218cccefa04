import { Box, Checkbox, FormControlLabel, TextField, Typography } from '@mui/material';
import { Notice } from '../../ui/Notice';
import { PRESETS } from '../../words/plan';
import type { RuleRow } from './form';
import { Choice, type FormPart, Part, Text } from './parts';

const SAYS: Record<RuleRow['kind'], string> = {
  beyond: 'A point beyond so many sigma',
  one_side: 'So many in a row on one side of the centre',
  trend: 'So many in a row rising, or falling',
  alternating: 'So many in a row up and down by turns',
  m_of_n: 'Some of a few beyond so many sigma, on one side',
  hugging: 'So many in a row close to the centre',
  avoiding: 'So many in a row away from the centre, on both sides',
};

const PARAMETERS = [['m', 'points'], ['n', 'in a row'], ['k', 'sigma']] as const;

/** Which patterns are signals, and what to do when one comes. */
export function RulesPart({ part }: { part: FormPart }) {
  const { f, set, wrong } = part;
  const change = (place: number, row: Partial<RuleRow>) =>
    set({ rules: f.rules.map((rule, i) => (i === place ? { ...rule, ...row } : rule)) });
  return (
    <Part title="Signals">
      <Choice
        label="Rules"
        wide={12}
        value={f.preset}
        options={[...Object.entries(PRESETS), ['own', 'An own list']] as [typeof f.preset, string][]}
        onChange={(preset) => set({ preset })}
      />
      {f.preset === 'own' && (
        <Box sx={{ gridColumn: '1 / -1', display: 'grid', gap: 0.5 }}>
          {f.rules.map((rule, place) => (
            <Box key={place} sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', minHeight: 48 }}>
              <FormControlLabel
                sx={{ flex: '1 1 320px' }}
                control={<Checkbox checked={rule.on} onChange={(_, on) => change(place, { on })} />}
                label={SAYS[rule.kind]}
              />
              {PARAMETERS.filter(([p]) => takes(rule.kind, p)).map(([p, words]) => (
                <TextField
                  key={p}
                  size="small"
                  label={words}
                  value={rule[p]}
                  disabled={!rule.on}
                  onChange={(event) => change(place, { [p]: event.target.value })}
                  sx={{ width: 104 }}
                  slotProps={{ htmlInput: { inputMode: 'decimal', 'aria-label': `${SAYS[rule.kind]}: ${words}` } }}
                />
              ))}
            </Box>
          ))}
        </Box>
      )}
      {wrong.rule_set !== undefined && <Box sx={{ gridColumn: '1 / -1' }}><Notice kind="problem">{wrong.rule_set}</Notice></Box>}
      <Text part={part} name="reaction" field="reaction_plan" label="Reaction plan, one step a line" wide={12} lines={3} />
      <Typography color="text.secondary" sx={{ gridColumn: '1 / -1' }}>The steps are shown with every signal of this characteristic.</Typography>
    </Part>
  );
}

function takes(kind: RuleRow['kind'], parameter: 'm' | 'n' | 'k'): boolean {
  if (parameter === 'm') return kind === 'm_of_n';
  if (parameter === 'n') return kind !== 'beyond';
  return kind === 'beyond' || kind === 'm_of_n' || kind === 'hugging' || kind === 'avoiding';
}
