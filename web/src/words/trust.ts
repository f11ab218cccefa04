import type { TrustCheck, TrustView } from '../api/client';
import { figure, plural } from './numbers';

/** Whether a chart can be trusted. */
export const TRUST = {
  title: 'Trust check',
  what: 'the trust check',
  none: 'No point yet that could be checked.',
};

/** How a check is called, what it found, and what to do where it did not go well. */
export interface Verdict {
  name: string;
  verdict: TrustCheck['verdict'];
  found: string;
  todo: string | null;
}

const NAMES: Record<TrustCheck['name'], string> = {
  stable: 'Stable',
  enough: 'Enough data',
  normal: 'Normal',
  independent: 'Independent',
  resolution: 'Resolution',
};

const TODO: Record<TrustCheck['name'], string> = {
  stable: 'Answer the signals first; set aside what is explained, then take the limits anew.',
  enough: 'Go on sampling; let limits from so few points count for little.',
  normal: 'Ask a subgroup instead of single values, or read limits as rough ones.',
  independent: 'Sample less often, or chart what drives the process; runs will be found that mean nothing.',
  resolution: 'Measure with a finer unit, or take more pieces.',
};

function found({ name, verdict, value }: TrustCheck): string {
  if (verdict === 'not_applicable' || value == null) return NOT_APPLICABLE[name];
  switch (name) {
    case 'stable':
      return value === 0
        ? 'No signal stands in this phase.'
        : plural(value, {
            one: '1 signal in this phase: the process was not stable.',
            other: `${value} signals in this phase: the process was not stable.`,
          });
    case 'enough':
      return verdict === 'good'
        ? `The limits rest on ${value} points.`
        : `The limits rest on ${value} points, fewer than they should.`;
    case 'normal':
      return verdict === 'good'
        ? `The values look normal (p ${figure(value, 3)}).`
        : `The values do not look normal (p ${figure(value, 4)}).`;
    case 'independent':
      return verdict === 'good'
        ? `Points do not depend on the ones before (${figure(value, 2)}).`
        : `Points depend on the ones before: their correlation is ${figure(value, 2)}.`;
    case 'resolution':
      return verdict === 'good'
        ? `${value} different spreads within their limits: the unit is fine enough.`
        : `Only ${value} different spreads within their limits: the unit is too coarse.`;
  }
}

const NOT_APPLICABLE: Record<TrustCheck['name'], string> = {
  stable: 'Nothing to say.',
  enough: 'The limits are in force or given, not estimated from these points.',
  normal: 'Only limits of single values lean on a normal distribution.',
  independent: 'There are too few points to tell.',
  resolution: 'This chart has no ranges.',
};

/** All checks in words. */
export function verdicts(view: TrustView): Verdict[] {
  const bad = (verdict: TrustCheck['verdict']) => verdict === 'caution' || verdict === 'poor';
  const checks = view.checks.map((check) => ({
    name: NAMES[check.name],
    verdict: check.verdict,
    found: found(check),
    todo: bad(check.verdict) ? TODO[check.name] : null,
  }));
  const { mixed, mixed_verdict: verdict } = view;
  return [
    ...checks,
    {
      name: 'One stream',
      verdict,
      found:
        mixed == null
          ? 'There are too few points to tell.'
          : `${mixed.within} of ${mixed.of} points lie within one sigma of the centre; about ${figure(mixed.expected, 0)} would by chance (p ${figure(mixed.p, 3)}).`,
      todo: bad(verdict)
        ? 'Streams seem mixed in one sample, or the limits are too wide. Give each machine, mould or head a characteristic of its own.'
        : null,
    },
  ];
}
