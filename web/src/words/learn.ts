import { RULES_BROKEN } from './setUpForm';
import { plural } from './numbers';
import { LOCALE } from './locale';
import { onDay, stretch } from './time';

const PERCENT = new Intl.NumberFormat(LOCALE, { style: 'percent', maximumFractionDigits: 0 });

export const LEARN = {
  title: 'Learn',
  about: 'What the episodes of a period teach. Each figure opens the episodes behind it. Trial limits are left out.',
  what: 'what there is to learn',
  from: 'From',
  until: 'Before',
  area: 'Area',
  allAreas: 'All areas',
  choose: 'Choose the first day and the day after the last.',
  nothing: 'No episode was raised in this period.',
  raised: 'raised',
  answered: 'answered',
  nothingFound: 'nothing found',
  causes: 'Causes that come back',
  noCause: 'No answer names a cause.',
  rules: 'By rule',
  stations: 'By station',
  weeks: 'By week',
  toAnswer: 'Until an answer',
  toReview: 'Until a review',
  none: 'none yet',
  week: (monday: string) => `week of ${onDay(`${monday}T12:00:00Z`)}`,
  share: (count: number, share: number | null | undefined) =>
    share == null ? String(count) : `${count} (${PERCENT.format(share)})`,
  at: (station: string, count: number) => `${station} (${count})`,
};

export const episodes = (count: number) => plural(count, { one: 'one episode', other: `${count} episodes` });

/** How often a cause came, in how many weeks. */
export function cameBack(count: number, weeks: number): string {
  return `${episodes(count)} in ${plural(weeks, { one: 'one week', other: `${weeks} weeks` })}`;
}

/** How long it takes. */
export function takes({ median, nine_of_ten: nine, of }: { median: number; nine_of_ten: number; of: number }): string {
  return `half within ${stretch(median * 1000)}, nine of ten within ${stretch(nine * 1000)} (of ${of})`;
}

export function ruleName(rule: string): string {
  return (RULES_BROKEN as Record<string, string | undefined>)[rule] ?? rule.replaceAll('_', ' ');
}
