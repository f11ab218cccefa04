import { Box, Button, Checkbox, FormControlLabel, FormGroup, FormLabel, MenuItem, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answered, api, type Choices, type LabRule, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { labRule } from '../../words/lab';
import { numberOf } from '../../words/numbers';
import { setUpSentence } from '../../words/setUp';

interface LevelForm {
  key: number;
  name: string;
  material: string;
  mean: string;
  sd: string;
}

/** Sets up what is determined in control materials. */
export default function AnalytePage() {
  const plan = useQuery(queries.plan);
  const choices = useQuery(queries.choices);
  return (
    <Loaded query={plan} what="the plan">
      {(places) => <Loaded query={choices} what="the rules">{(offered) => <Form plan={places} choices={offered} />}</Loaded>}
    </Loaded>
  );
}

function Form({ plan, choices }: { plan: Plan; choices: Choices }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const level = (key: number): LevelForm => ({ key, name: '', material: '', mean: '', sd: '' });
  const [station, setStation] = useState('');
  const [name, setName] = useState('');
  const [unit, setUnit] = useState('');
  const [decimals, setDecimals] = useState('2');
  const [levels, setLevels] = useState<LevelForm[]>([level(0), level(1)]);
  const [rules, setRules] = useState<readonly LabRule[]>(choices.usual_lab_rules);
  const [failure, setFailure] = useState<unknown>(null);
  const change = (key: number, part: Partial<LevelForm>) => setLevels((all) => all.map((l) => (l.key === key ? { ...l, ...part } : l)));
  const complete = [station, name, unit].every((text) => text.trim() !== '') && Number.isInteger(numberOf(decimals)) && rules.length > 0 &&
    levels.every((l) => l.name.trim() !== '' && l.material !== '' && Number.isFinite(numberOf(l.mean)) && numberOf(l.sd) > 0);
  const add = async () => {
    try {
      await answered(api.POST('/api/plan/analytes', {
        body: {
          station, name, unit, decimals: numberOf(decimals),
          rules: choices.lab_rules.filter((rule) => rules.includes(rule)),
          levels: levels.map((l) => ({ name: l.name, material: l.material, assigned: { mean: numberOf(l.mean), sd: numberOf(l.sd) } })),
        },
      }));
      await touch(client, { kind: 'plan' });
      void navigate(`/lab?bench=${station}`);
    } catch (error) {
      setFailure(error);
    }
  };
  return (
    <Box sx={{ maxWidth: 900, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>Set up an analyte</Typography>
      <Stack component="form" spacing={2} onSubmit={(event) => { event.preventDefault(); void add(); }}>
        <Paper component="section" aria-label="Analyte" sx={{ p: 2, display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
          <TextField select label="Bench" value={station} onChange={(event) => setStation(event.target.value)}>
            {plan.stations.map((s) => <MenuItem key={s.id} value={s.id}>{s.name} · {s.area}</MenuItem>)}
          </TextField>
          <TextField label="What is determined" value={name} onChange={(event) => setName(event.target.value)} />
          <TextField label="Unit" value={unit} onChange={(event) => setUnit(event.target.value)} />
          <TextField label="Decimals" value={decimals} onChange={(event) => setDecimals(event.target.value)} slotProps={{ htmlInput: { inputMode: 'numeric' } }} />
        </Paper>
        <Paper component="section" aria-label="Levels" sx={{ p: 2 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>Levels, in the order in which neighbours are compared</Typography>
          <Stack spacing={1.5}>
            {levels.map((l, i) => (
              <Box key={l.key} role="group" aria-label={`Level ${i + 1}`} sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr 1fr', md: '1fr 1.4fr 120px 120px auto' } }}>
                <TextField label="Level" value={l.name} onChange={(event) => change(l.key, { name: event.target.value })} />
                <TextField select label="Control material" value={l.material} onChange={(event) => change(l.key, { material: event.target.value })}>
                  {plan.products.map((p) => <MenuItem key={p.id} value={p.id}>{p.name}</MenuItem>)}
                </TextField>
                <TextField label="Mean" value={l.mean} onChange={(event) => change(l.key, { mean: event.target.value })} slotProps={{ htmlInput: { inputMode: 'decimal' } }} />
                <TextField label="sd" value={l.sd} onChange={(event) => change(l.key, { sd: event.target.value })} slotProps={{ htmlInput: { inputMode: 'decimal' } }} />
                <Button color="inherit" disabled={levels.length === 1} onClick={() => setLevels((all) => all.filter((other) => other.key !== l.key))} aria-label={`Take level ${i + 1} away`}>Take away</Button>
              </Box>
            ))}
          </Stack>
          <Button color="inherit" variant="outlined" sx={{ mt: 1.5 }} disabled={levels.length >= 9} onClick={() => setLevels((all) => [...all, level(Math.max(...all.map((l) => l.key)) + 1)])}>Add a level</Button>
          <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>A control material is a product of the site; mean and sd are those assigned to its lot.</Typography>
        </Paper>
        <Paper component="section" sx={{ p: 2 }}>
          <FormLabel id="lab-rules">Rules that judge a run</FormLabel>
          <FormGroup aria-labelledby="lab-rules" sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' } }}>
            {choices.lab_rules.map((rule) => (
              <FormControlLabel
                key={rule}
                label={labRule(rule)}
                control={<Checkbox checked={rules.includes(rule)} onChange={(_, on) => setRules((all) => (on ? [...all, rule] : all.filter((r) => r !== rule)))} />}
              />
            ))}
          </FormGroup>
        </Paper>
        {failure != null && <Notice kind="problem">{setUpSentence(failure)}</Notice>}
        <Button type="submit" variant="contained" disabled={!complete} sx={{ alignSelf: 'start' }}>Set it up</Button>
      </Stack>
    </Box>
  );
}
