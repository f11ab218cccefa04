import { Box, FormControlLabel, Radio, RadioGroup, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answered, api, type ChartKind, type Recommendation } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { cautionFor, chartName, KINDS, reasonFor, TAKEN } from '../../words/plan';
import type { Fields } from './form';
import { Choice, type FormPart, Part, Text } from './parts';

const pairs = <V extends string>(words: Record<V, string>) => Object.entries(words) as [V, string][];

/** What the chooser recommends for the answers given so far. */
export function useRecommendation(f: Fields, characteristic: string | null): Recommendation | undefined {
  const pieces = Number(f.pieces);
  const asked = { kind: f.kind, pieces, varying: f.kind !== 'measured' && f.varying, taken: f.taken };
  const query = useQuery({
    queryKey: ['chooser', asked, characteristic],
    enabled: Number.isInteger(pieces) && pieces >= 1 && pieces <= 1_000_000,
    placeholderData: keepPreviousData,
    queryFn: () => answered(api.POST('/api/plan/chooser', { body: { asked, characteristic } })),
  });
  return query.data;
}

/** Plain questions about how the sample is taken, and the chart that fits, with its reason. */
export function Chooser({ part, found }: { part: FormPart; found: Recommendation | undefined }) {
  const { f, set, wrong } = part;
  const measured = f.kind === 'measured';
  return (
    <Part title="How the sample is taken">
      <Choice label="What do you record?" wide={8} value={f.kind} options={pairs(KINDS)} onChange={(kind) => set({ kind, chart: null })} />
      <Text part={part} name="pieces" field="subgroup_size" type="number" label={measured ? 'How many pieces each time?' : f.varying ? 'About how many, as a rule?' : 'How many are inspected each time?'} {...(f.varying && !measured && { help: 'It is asked each time; this only tells which chart fits.' })} />
      {measured ? (
        <Choice label="Where do the pieces come from?" wide={8} value={f.taken} options={pairs(TAKEN)} onChange={(taken) => set({ taken })} />
      ) : (
        <Choice
          label="Always the same number?"
          wide={8}
          value={f.varying ? 'no' : 'yes'}
          options={[['yes', 'Yes, always'], ['no', 'No, it is asked each time']] as const}
          onChange={(answer) => set({ varying: answer === 'no', chart: null })}
          why={wrong.varying}
        />
      )}
      <Choice
        label="When is a sample due?"
        value={f.every}
        options={[['minutes', 'Every so many minutes'], ['pieces', 'Every so many pieces'], ['lot', 'Once for each lot'], ['shift', 'Once a shift']] as const}
        onChange={(every) => set({ every })}
        why={wrong.sampling}
      />
      {(f.every === 'minutes' || f.every === 'pieces') && (
        <Text part={part} name="everyCount" type="number" label={f.every === 'minutes' ? 'Minutes' : 'Pieces'} field="sampling" />
      )}
      {found && <Fitting part={part} found={found} />}
    </Part>
  );
}

function Fitting({ part, found }: { part: FormPart; found: Recommendation }) {
  const { f, set, wrong } = part;
  const charts: ChartKind[] = [found.chart, ...found.others];
  // A chart that was chosen before stays in sight where the answers no longer lead to it.
  if (f.chart !== null && !charts.includes(f.chart)) charts.push(f.chart);
  return (
    <Box sx={{ gridColumn: '1 / -1', borderTop: 1, borderColor: 'divider', pt: 2 }}>
      <Typography sx={{ fontWeight: 600 }}>{chartName(found.chart)} fits.</Typography>
      <Typography color="text.secondary" sx={{ mb: 1 }}>{reasonFor(found)}</Typography>
      {found.cautions.filter((caution) => !(caution === 'few_inspected' && f.varying)).map((caution) => <Notice key={caution} kind="caution">{cautionFor(caution)}</Notice>)}
      <RadioGroup
        aria-label="Chart"
        value={f.chart ?? found.chart}
        onChange={(_, chart) => set({ chart: chart === found.chart ? null : (chart as ChartKind) })}
      >
        {charts.map((chart) => (
          <FormControlLabel
            key={chart}
            value={chart}
            control={<Radio />}
            label={`${chartName(chart)}${chart === found.chart ? ', recommended' : ''}`}
          />
        ))}
      </RadioGroup>
      {wrong.chart !== undefined && <Notice kind="problem">{wrong.chart}</Notice>}
    </Box>
  );
}
