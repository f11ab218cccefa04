import type { PlanCost } from '../api/ruleCost';
import { figure, plural } from './numbers';
import { samplingInWords } from './plan';
import { stretch } from './time';

const SHIFTS: Record<number, string> = { 0.5: '½', 1: '1', 2: '2' };

const about = (x: number) => figure(x, x < 10 ? 1 : 0);

/** What rules cost. */
export const RULE_COST = {
  title: 'What these rules cost',
  how: (timed: boolean) =>
    timed
      ? 'On the mean alone, of a process that runs day and night: how often they cry wolf while nothing has changed, and how long a shift of the mean goes on before its signal, on average. Shifts are in sigma of single values.'
      : 'On the mean alone: after how many samples they cry wolf while nothing has changed, and how many samples a shift of the mean goes on before its signal, on average. Shifts are in sigma of single values.',
  sampling: 'Sampling',
  falseAlarms: (timed: boolean) => (timed ? 'False alarms a week' : 'One false alarm in'),
  sees: (shift: number) => `${SHIFTS[shift] ?? shift} sigma seen after`,
  plan: (pieces: number, minutes: number | null, now: boolean) => {
    const each = plural(pieces, { one: '1 piece', other: `${pieces} pieces` });
    const every = minutes === null ? '' : ` ${samplingInWords({ every: 'minutes', count: minutes })}`;
    return `${each}${every}${now ? ', as set up' : ''}`;
  },
  alarms: ({ false_alarms_per_day: daily, interval_minutes: minutes }: PlanCost, timed: boolean) =>
    timed ? about(7 * daily) : `${about(1440 / minutes / daily)} samples`,
  after: ({ minutes, samples }: PlanCost['seen'][number], timed: boolean) =>
    timed ? stretch(minutes * 60_000) : `${about(samples)} samples`,
};
