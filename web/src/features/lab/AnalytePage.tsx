import { Box, Button, Checkbox, FormControlLabel, FormGroup, FormLabel, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type Control, useController, useFieldArray, useForm, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { answered, api, type Choices, type LabRule, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Select, TextInput } from '../../ui/fields';
import { Loaded } from '../../ui/States';
import { labRule } from '../../words/labRules';
import { ANALYTE } from '../../words/levels';
import { numberOf } from '../../words/numbers';
import { LOADING } from '../../words/setUpForm';
import { whyNot } from '../../words/setUp';

const MOST_LEVELS = 9;

interface Fields {
  station: string;
  name: string;
  unit: string;
  decimals: string;
  levels: { name: string; material: string; mean: string; sd: string }[];
  rules: LabRule[];
}

const LEVEL = { name: '', material: '', mean: '', sd: '' };

/** Whether enough is filled in to be sent; everything else is the server's to say. */
function isComplete({ station, name, unit, decimals, levels, rules }: Fields): boolean {
  return (
    [station, name, unit].every((text) => text.trim() !== '') &&
    Number.isInteger(numberOf(decimals)) &&
    rules.length > 0 &&
    levels.every(
      (l) => l.name.trim() !== '' && l.material !== '' && Number.isFinite(numberOf(l.mean)) && numberOf(l.sd) > 0,
    )
  );
}

/** Sets up what is determined in control materials. */
export default function AnalytePage() {
  const plan = useQuery(queries.plan);
  const choices = useQuery(queries.choices);
  return (
    <Loaded query={plan} what={LOADING.plan}>
      {(places) => (
        <Loaded query={choices} what={LOADING.rules}>
          {(offered) => <Form plan={places} choices={offered} />}
        </Loaded>
      )}
    </Loaded>
  );
}

function Form({ plan, choices }: { plan: Plan; choices: Choices }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { control, handleSubmit } = useForm<Fields>({
    defaultValues: {
      station: '',
      name: '',
      unit: '',
      decimals: '2',
      levels: [LEVEL, LEVEL],
      rules: choices.usual_lab_rules,
    },
  });
  const complete = isComplete(useWatch({ control }) as Fields);
  const add = useMutation({
    mutationFn: async ({ station, name, unit, decimals, rules, levels }: Fields) => {
      await answered(
        api.POST('/api/plan/analytes', {
          body: {
            station,
            name,
            unit,
            decimals: numberOf(decimals),
            rules: choices.lab_rules.filter((rule) => rules.includes(rule)),
            levels: levels.map((l) => ({
              name: l.name,
              material: l.material,
              assigned: { mean: numberOf(l.mean), sd: numberOf(l.sd) },
            })),
          },
        }),
      );
      await touch(client, { kind: 'plan' });
      void navigate(`/lab?bench=${station}`);
    },
  });
  const submit = handleSubmit((fields) => add.mutate(fields));
  return (
    <Box sx={{ maxWidth: 900, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {ANALYTE.title}
      </Typography>
      <Stack component="form" spacing={2} onSubmit={(event) => void submit(event)}>
        <Paper
          component="section"
          aria-label={ANALYTE.analyte}
          sx={{ p: 2, display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}
        >
          <Select
            control={control}
            name="station"
            label={ANALYTE.bench}
            options={plan.stations.map((s) => [s.id, `${s.name} · ${s.area}`])}
          />
          <TextInput control={control} name="name" label={ANALYTE.determined} />
          <TextInput control={control} name="unit" label={ANALYTE.unit} />
          <TextInput control={control} name="decimals" label={ANALYTE.decimals} keys="numeric" />
        </Paper>
        <Levels control={control} materials={plan.products.map((p) => [p.id, p.name])} />
        <Rules control={control} offered={choices.lab_rules} />
        <Failed why={add.error} say={whyNot} />
        <Button type="submit" variant="contained" disabled={!complete || add.isPending} sx={{ alignSelf: 'start' }}>
          {ANALYTE.setUp}
        </Button>
      </Stack>
    </Box>
  );
}

/** The levels, each of a material of its own. */
function Levels({
  control,
  materials,
}: {
  control: Control<Fields>;
  materials: readonly (readonly [string, string])[];
}) {
  const { fields, append, remove } = useFieldArray({ control, name: 'levels' });
  return (
    <Paper component="section" aria-label={ANALYTE.levels} sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {ANALYTE.inOrder}
      </Typography>
      <Stack spacing={1.5}>
        {fields.map(({ id }, i) => (
          <Box
            key={id}
            role="group"
            aria-label={ANALYTE.levelNo(i + 1)}
            sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr 1fr', md: '1fr 1.4fr 120px 120px auto' } }}
          >
            <TextInput control={control} name={`levels.${i}.name`} label={ANALYTE.level} />
            <Select control={control} name={`levels.${i}.material`} label={ANALYTE.material} options={materials} />
            <TextInput control={control} name={`levels.${i}.mean`} label={ANALYTE.mean} keys="decimal" />
            <TextInput control={control} name={`levels.${i}.sd`} label={ANALYTE.sd} keys="decimal" />
            <Button
              color="inherit"
              disabled={fields.length === 1}
              onClick={() => remove(i)}
              aria-label={ANALYTE.takeLevelAway(i + 1)}
            >
              {ANALYTE.takeAway}
            </Button>
          </Box>
        ))}
      </Stack>
      <Button
        color="inherit"
        variant="outlined"
        sx={{ mt: 1.5 }}
        disabled={fields.length >= MOST_LEVELS}
        onClick={() => append(LEVEL)}
      >
        {ANALYTE.addLevel}
      </Button>
      <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
        {ANALYTE.materialIs}
      </Typography>
    </Paper>
  );
}

/** The rules that judge a run. */
function Rules({ control, offered }: { control: Control<Fields>; offered: readonly LabRule[] }) {
  const {
    field: { value, onChange },
  } = useController({ control, name: 'rules' });
  return (
    <Paper component="section" sx={{ p: 2 }}>
      <FormLabel id="lab-rules">{ANALYTE.rules}</FormLabel>
      <FormGroup
        aria-labelledby="lab-rules"
        sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' } }}
      >
        {offered.map((rule) => (
          <FormControlLabel
            key={rule}
            label={labRule(rule)}
            control={
              <Checkbox
                checked={value.includes(rule)}
                onChange={(_, on) => onChange(on ? [...value, rule] : value.filter((other) => other !== rule))}
              />
            }
          />
        ))}
      </FormGroup>
    </Paper>
  );
}
