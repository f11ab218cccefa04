import type { RuleSetsAnswer } from '../api/client';
import { figure, grouped } from './numbers';

const LETTERS = 'ABCD';

export const RULES_WEIGHED = {
  weigh: 'Weigh',
  called: 'Called',
  nth: (n: number) => `Design ${LETTERS[n] ?? n + 1}`,
  remove: 'Take it away',
  more: 'One design more',
  rules: 'Rules',
  own: 'Those of the characteristic',
  k: 'Limits at sigma',
  pieces: 'Pieces',
  every: 'Every … minutes',
  drawing: 'How long until a shift is seen',
  drawn:
    'A shift of single values, in sigma, comes at any moment between two samples. The scale of time is logarithmic.',
  figures: 'What each sees and costs',
  design: 'Design',
  plan: 'Samples',
  planSays: (pieces: number, every: number) =>
    `${pieces} every ${every === 60 ? 'hour' : every % 60 === 0 ? `${every / 60} hours` : `${every} minutes`}`,
  falseAlarms: 'False alarms',
  piecesADay: 'Pieces a day',
  shift: (x: number) => `${x} σ`,
  samples: (arl: string) => `${arl} samples`,
};

/** Minutes in the unit that is read best. */
export function duration(minutes: number): string {
  if (minutes < 90) return `${figure(Math.max(minutes, 0), 0)} min`;
  if (minutes < 48 * 60) return `${figure(minutes / 60, 1)} h`;
  return `${figure(minutes / 1440, 1)} days`;
}

/** How often a false alarm comes. */
export function falseAlarms(perDay: number, daysBetween: number): string {
  return perDay >= 1 ? `${figure(perDay, 1)} a day` : `one in ${figure(daysBetween, 1)} days`;
}

/** What the designs come to, in sentences. */
export function rulesWeighedInWords({ designs }: RuleSetsAnswer): string[] {
  return designs.map(({ name, sees, false_alarms_per_day: alarms, days_between: days, pieces_per_day: pieces }) => {
    const one = sees.find(({ shift }) => shift === 1);
    return `${name} sees a shift of 1 σ after ${duration(one?.minutes ?? 0)} on average, cries wolf ${alarms >= 1 ? `${figure(alarms, 1)} times a day` : `once in ${figure(days, 1)} days`}, and takes ${grouped(Math.round(pieces))} pieces a day.`;
  });
}
