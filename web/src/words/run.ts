import type { Outcome, Unusual } from '../api/client';
import { within } from './failures';
import { OUTCOMES } from './lab';
import { figure, inWords, plural } from './numbers';
import { when } from './time';

/** The entry of a run. */
export const RUN_ENTRY = {
  analytes: 'Analytes',
  firstMeasured: (at: string) => `It counts as measured ${when(at)}, when it was first entered.`,
  save: 'Save run',
  asTyped: 'As typed:',
  keys: [{ keys: ['Enter'], does: 'next blank result, saves when there is none' }],
  unusual: ({ name, decimals }: { name: string; decimals: number }, { given, lower, upper }: Unusual) => {
    const round = (x?: number | null) => (x == null ? x : Number(x.toFixed(decimals)));
    return `${name}: ${figure(given, decimals)} is unusual; results ${within(round(lower), round(upper))} are usual here. Is it right?`;
  },
  meant: (results: readonly string[]) => `${results.join(', ')} was meant`,
  keepIt: 'Keep it, measured so',
  isKept: 'The run is kept on this device and goes through by itself; it is judged and released then.',
  seeWaiting: 'See what waits',
  waiting: (bench: string, results: number) =>
    plural(results, { one: `Control run, ${bench}: 1 result`, other: `Control run, ${bench}: ${results} results` }),
  level: (analyte: string, level: string) => `${analyte}, ${level}`,
  noMean: 'no mean assigned yet',
  expected: (mean: string, sd: string) => `mean ${mean}, sd ${sd}`,
  lots: { reagent: 'Reagent lot', control: 'Control lot' },
  lotOf: {
    reagent: (analyte: string) => `Reagent lot, ${analyte}`,
    control: (analyte: string) => `Control lot, ${analyte}`,
  },
  offered: (device: string, results: number, newest: string) =>
    plural(results, {
      one: `${device} has sent one result, the newest of ${when(newest)}.`,
      other: `${device} has sent ${inWords(results)} results, the newest of ${when(newest)}.`,
    }),
  takeOver: (results: number) => plural(results, { one: 'Take it over', other: 'Take them over' }),
};

/** One run, and what is to be done with it. */
export const RUN = {
  run: 'the run',
  title: (number: number) => `Run ${number}`,
  allOf: (bench: string | undefined) => (bench === undefined ? 'All runs of the bench' : `All runs of ${bench}`),
  verdict: 'Verdict',
  results: 'Results',
  rejectionOverridden: (at: string, person: string, because: string) =>
    `The rejection was overridden ${when(at)} by ${person}: ${because}`,
  letThrough: (at: string, person: string, because: string) =>
    `It was let through incomplete ${when(at)} by ${person}: ${because}`,
  correctedSince: (outcome: Outcome) =>
    `A result was corrected after the release. By the results as they are now the run would be: ${OUTCOMES[outcome]}.`,
  released: (at: string, person: string) => `Released ${when(at)} by ${person}.`,
  repeatedBy: (number: number) => `Repeated by run ${number}.`,
  seeIt: 'See that run',
  notByItself: (missing: number) =>
    plural(missing, {
      one: 'Without it the run is not accepted by itself.',
      other: 'Without them the run is not accepted by itself.',
    }),
  /** What to do with a run that may not be released; `others`: somebody else may override that. */
  blocked: (outcome: Outcome, others: boolean) => {
    const first =
      outcome === 'rejected'
        ? 'The run may not be released. Look for the cause, then repeat it'
        : 'The run may not be released. Repeat it with all levels';
    return others ? `${first}; a supervisor who did not run it may override that.` : `${first}.`;
  },
  somebodyElse: 'Whoever ran it does not release it. Somebody else does.',
  release: 'Release the run',
  repeat: 'Repeat the run',
  next: 'Start the next run',
  back: 'Back',
  override: {
    rejected: { begin: 'Override the verdict …', why: 'Why the rejection does not stand', act: 'Override the verdict' },
    incomplete: {
      begin: 'Let it through incomplete …',
      why: 'Why it may go without them',
      act: 'Let it through incomplete',
    },
  },
};
