import { useWatch } from 'react-hook-form';
import type { ChartKind } from '../../api/client';
import { Tick } from '../../ui/fields';
import { OPTIONS, SIGMA_METHODS } from '../../words/setUpForm';
import type { SetUpForm } from './form';
import { Choice, Part, span, Text } from './parts';

const MOVING: readonly ChartKind[] = ['i_mr', 'between_within'];
const COUNTED: readonly ChartKind[] = ['p', 'np', 'c', 'u', 'p_prime', 'u_prime'];

/** What the chosen chart can be drawn with. A change holds from the next sample, and rules start afresh there. */
export function OptionsPart({ form, recommended }: { form: SetUpForm; recommended: ChartKind | undefined }) {
  const { control } = form;
  const chart = useWatch({ control, name: 'chart' }) ?? recommended;
  if (chart === undefined || chart === 'run') return null;
  return (
    <Part title={OPTIONS.title}>
      {chart !== 'cusum' && <Text form={form} name="k" number label={OPTIONS.k} help={OPTIONS.sigma} />}
      {MOVING.includes(chart) && <Text form={form} name="options.span" number label={OPTIONS.span} />}
      {chart === 'i_mr' && (
        <Choice
          form={form}
          name="options.sigmaMethod"
          label={OPTIONS.sigmaFrom}
          options={Object.entries(SIGMA_METHODS)}
        />
      )}
      {chart === 'ewma' && (
        <Text form={form} name="options.lambda" number label={OPTIONS.lambda} help={OPTIONS.lambdaHelp} />
      )}
      {chart === 'moving_average' && <Text form={form} name="options.width" number label={OPTIONS.width} />}
      {chart === 'cusum' && (
        <>
          <Text form={form} name="options.kappa" number label={OPTIONS.kappa} help={OPTIONS.kappaHelp} />
          <Text form={form} name="options.h" number label={OPTIONS.h} help={OPTIONS.sigma} />
          <Text form={form} name="options.target" number label={OPTIONS.target} help={OPTIONS.targetHelp} />
          <Tick control={control} name="options.fastStart" label={OPTIONS.fastStart} sx={span(12)} />
        </>
      )}
      {(chart === 'p' || chart === 'p_prime') && (
        <Tick control={control} name="options.conforming" label={OPTIONS.conforming} sx={span(12)} />
      )}
      {COUNTED.includes(chart) && (
        <Tick control={control} name="options.meanSize" label={OPTIONS.meanSize} sx={span(12)} />
      )}
    </Part>
  );
}
