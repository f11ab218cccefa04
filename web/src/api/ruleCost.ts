import { z } from 'zod';
import { answered, api, type RuleSet } from './client';

/** How rules are asked about. */
export interface Asked {
  rules: RuleSet;
  k: number;
  plans: { pieces: number; interval_minutes: number }[];
}

/** What one plan costs, and how long each shift stays unseen. */
export interface PlanCost {
  pieces: number;
  interval_minutes: number;
  false_alarms_per_day: number;
  seen: { minutes: number; samples: number }[];
}

/** Shifts of the mean that are asked about, in sigma of single values. */
const SHIFTS = [0.5, 1, 2] as const;
/** Two places of an average, within a blink. */
const RUNS = 5000;

const sees = z.array(
  z.object({
    pieces: z.number(),
    interval_minutes: z.number(),
    arl: z.number(),
    minutes_to_signal: z.number(),
    false_alarms_per_day: z.number(),
  }),
);

/** What rules cost and see, by the analysis interface. */
export async function ruleCost(asked: Asked, signal: AbortSignal): Promise<{ shifts: number[]; plans: PlanCost[] }> {
  const of = async (shift: number) => {
    const body = { task: 'sampling', ...asked, shift, runs: RUNS, seed: 1 };
    // Its requests are described in words, not by a schema.
    return sees.parse(
      await answered(api.POST('/api/analyze', { body: body as unknown as Record<string, never>, signal })),
    );
  };
  const answers = await Promise.all(SHIFTS.map(of));
  const [first = []] = answers;
  const plans = first.map(({ pieces, interval_minutes, false_alarms_per_day }, place) => ({
    pieces,
    interval_minutes,
    false_alarms_per_day,
    seen: answers.flatMap((plan) => {
      const it = plan[place];
      return it ? [{ minutes: it.minutes_to_signal, samples: it.arl }] : [];
    }),
  }));
  return { shifts: [...SHIFTS], plans };
}
