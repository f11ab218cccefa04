import { Box, FormControlLabel, Radio, RadioGroup, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useController, useWatch } from 'react-hook-form';
import { answered, api, type ChartKind, type Recommendation } from '../../api/client';
import { queries } from '../../api/queries';
import { Notice } from '../../ui/Notice';
import { cautionFor, chartName, KINDS, reasonFor, TAKEN } from '../../words/plan';
import { EVERY, SAME, SET_UP } from '../../words/setUpForm';
import type { SetUpForm } from './form';
import { Choice, Part, Text } from './parts';

const MOST_PIECES = 1_000_000;

/** What the chooser recommends for the answers given so far. */
export function useRecommendation({ control }: SetUpForm, characteristic: string | null): Recommendation | undefined {
  const [kind, typed, same, taken] = useWatch({ control, name: ['kind', 'pieces', 'same', 'taken'] });
  const pieces = Number(typed);
  const asked = { kind, pieces, varying: kind !== 'measured' && kind !== 'rare_event' && same === 'no', taken };
  const query = useQuery({
    queryKey: queries.chooser(asked, characteristic),
    enabled: Number.isInteger(pieces) && pieces >= 1 && pieces <= MOST_PIECES,
    placeholderData: keepPreviousData,
    queryFn: () => answered(api.POST('/api/plan/chooser', { body: { asked, characteristic } })),
  });
  return query.data;
}

/** Plain questions about how the sample is taken, and the chart that fits, with its reason. */
export function Chooser({ form, found }: { form: SetUpForm; found: Recommendation | undefined }) {
  const { control, setValue } = form;
  const kind = useWatch({ control, name: 'kind' });
  const chartAnew = () => setValue('chart', null);
  return (
    <Part title={SET_UP.howTaken}>
      <Choice
        form={form}
        name="kind"
        label={SET_UP.whatRecorded}
        wide={8}
        options={Object.entries(KINDS)}
        onPick={chartAnew}
      />
      {kind !== 'rare_event' && <HowTaken form={form} chartAnew={chartAnew} />}
      {found && <Fitting form={form} found={found} />}
    </Part>
  );
}

/** How many, where from, how often: what is asked of everything that is sampled. */
function HowTaken({ form, chartAnew }: { form: SetUpForm; chartAnew: () => void }) {
  const [kind, same, every] = useWatch({ control: form.control, name: ['kind', 'same', 'every'] });
  const varying = same === 'no';
  const measured = kind === 'measured';
  return (
    <>
      <Text
        form={form}
        name="pieces"
        number
        label={measured ? SET_UP.howManyPieces : varying ? SET_UP.aboutHowMany : SET_UP.howManyInspected}
        help={varying && !measured ? SET_UP.askedEachTime : undefined}
      />
      {measured ? (
        <Choice form={form} name="taken" label={SET_UP.whereFrom} wide={8} options={Object.entries(TAKEN)} />
      ) : (
        <Choice
          form={form}
          name="same"
          label={SET_UP.alwaysTheSame}
          wide={8}
          options={Object.entries(SAME)}
          onPick={chartAnew}
        />
      )}
      <Choice
        form={form}
        name="every"
        label={SET_UP.whenDue}
        options={Object.entries(EVERY).filter(([every]) => every !== 'never')}
      />
      {(every === 'minutes' || every === 'pieces') && (
        <Text form={form} name="everyCount" number label={every === 'minutes' ? SET_UP.minutes : SET_UP.pieces} />
      )}
    </>
  );
}

function Fitting({ form, found }: { form: SetUpForm; found: Recommendation }) {
  const {
    field,
    fieldState: { error },
  } = useController({ control: form.control, name: 'chart' });
  const varying = useWatch({ control: form.control, name: 'same' }) === 'no';
  const charts: ChartKind[] = [found.chart, ...found.others];
  // A chart that was chosen before stays in sight where the answers no longer lead to it.
  if (field.value !== null && !charts.includes(field.value)) charts.push(field.value);
  return (
    <Box sx={{ gridColumn: '1 / -1', borderTop: 1, borderColor: 'divider', pt: 2 }}>
      <Typography sx={{ fontWeight: 600 }}>{SET_UP.fits(chartName(found.chart))}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        {reasonFor(found)}
      </Typography>
      {found.cautions
        .filter((caution) => !(caution === 'few_inspected' && varying))
        .map((caution) => (
          <Notice key={caution} kind="caution">
            {cautionFor(caution)}
          </Notice>
        ))}
      <RadioGroup
        aria-label={SET_UP.chart}
        value={field.value ?? found.chart}
        onChange={(_, chart) => field.onChange(chart === found.chart ? null : chart)}
      >
        {charts.map((chart) => (
          <FormControlLabel
            key={chart}
            value={chart}
            control={<Radio />}
            label={chart === found.chart ? SET_UP.recommended(chartName(chart)) : chartName(chart)}
          />
        ))}
      </RadioGroup>
      {error?.message !== undefined && <Notice kind="problem">{error.message}</Notice>}
    </Box>
  );
}
