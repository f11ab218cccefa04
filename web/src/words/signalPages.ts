import type { Decision, SignalState, SignalView, WithdrawnReason } from '../api/client';
import { inWords, plural } from './numbers';
import { DECISIONS, STATES } from './signals';
import { ago, when } from './time';

/** The list of signals. */
export const SIGNALS_LIST = {
  title: 'Signals',
  which: 'Which signals',
  signals: 'the signals',
  filters: { open: STATES.open, answered: 'To review', reviewed: STATES.reviewed, all: 'All' } satisfies Record<
    SignalState | 'all',
    string
  >,
  nothing: {
    open: 'No signal waits for an answer.',
    answered: 'No answer waits for review.',
    reviewed: 'Nothing has been reviewed yet.',
    all: 'No rule has been broken yet.',
  } satisfies Record<SignalState | 'all', string>,
  columns: { state: 'State', sentence: 'What the points did', where: 'Where', raised: 'Raised', answer: 'Answer' },
};

/** Where a signal stands, in the list. */
export function standing(signal: SignalView): string {
  const last = signal.answers[signal.answers.length - 1];
  if (!last) return signal.cleared_by == null ? openFor(signal.raised_at) : `Made to go away by ${signal.cleared_by}`;
  const { review } = last;
  if (review?.decision === 'sent_back') return `Sent back: ${review.remark ?? ''}`;
  const cause = last.cause ?? 'Nothing found';
  return review ? `${cause} · ${DECISIONS[review.decision]}` : cause;
}

export function openFor(raisedAt: string): string {
  return `open for ${ago(raisedAt)}`;
}

/** Why a finding holds no more. */
const WITHDRAWN: Record<WithdrawnReason, string> = {
  late: 'a sample came late',
  corrected: 'a sample was corrected',
  withdrawn: 'a sample was withdrawn',
  set_aside: 'a point was set aside',
  taken_back: 'a point that was set aside was taken back',
  restart: 'the rules start afresh at another place',
  limits: 'other limits hold',
  phase: 'a phase began, moved or was merged',
};

/** One signal and what is to be done about it. */
export const SIGNAL = {
  signal: 'the signal',
  title: 'Signal',
  chart: 'Chart',
  theChart: 'the chart',
  raised: (at: string) => `raised ${when(at)}`,
  foundLate: 'Found after a sample came late or was changed.',
  withdrawn: (at: string, reason: WithdrawnReason) =>
    `Withdrawn ${when(at)}: ${WITHDRAWN[reason]}, and the finding no longer holds.`,
  cleared: (person: string) => `${person} made it go away; somebody else reviews that.`,
  answered: (person: string, at: string) => `${person} answered ${when(at)}`,
  reviewed: (person: string, at: string) => `${person} reviewed ${when(at)}`,
  nothingFound: 'Looked, nothing found',
  actedFirst: 'Somebody acted on this signal first; it is shown above as it stands now. What you typed is still here.',
  putAway: 'Put it away',
  waitsForSupervisor: 'Waits for the supervisor.',
  ownAnswer: 'You answered this signal or made its finding go away; somebody else reviews it.',
  reactionPlan: 'Reaction plan',
  answer: 'Answer',
  isNow: {
    open: 'This signal is open; see it.',
    answered: 'This signal is answered; see it.',
    reviewed: 'This signal is reviewed; see it.',
  } satisfies Record<SignalState, string>,
};

/** Asking for cause and action. */
export const ANSWER = {
  title: 'Answer',
  cause: 'What was the cause?',
  chooseCause: 'Choose a cause, or say that nothing was found.',
  another: 'Another cause',
  nothing: 'Looked, nothing found',
  causeInWords: 'The cause, in words',
  sayCause: 'Say the cause in a few words.',
  done: 'What was done',
  sayDone: 'Say what was done, even if it was only looking.',
  lookedOnly: 'Looked, nothing found.',
  tooLong: 'This is longer than 2000 characters.',
  phrases: 'Ready phrases',
  forAll: (others: number) =>
    plural(others, {
      one: 'Holds for the other signal of this sample too',
      other: `Holds for the other ${inWords(others)} signals of this sample too`,
    }),
  save: 'Save answer',
  later: 'Answer later',
};

/** The supervisor's decision: as it is chosen, as its button says it, and what is asked with it. */
export const REVIEW = {
  title: 'Review',
  tooLong: 'This is longer than 2000 characters.',
  needsWords: 'This decision needs words.',
  choice: {
    accepted: 'Accept the answer',
    sent_back: 'Send back with a question',
    overruled: 'Overrule, with a reason',
  } satisfies Record<Decision, string>,
  button: { accepted: 'Accept', sent_back: 'Send back', overruled: 'Overrule' } satisfies Record<Decision, string>,
  remark: { accepted: 'Remark', sent_back: 'Question', overruled: 'Reason' } satisfies Record<Decision, string>,
};

/** What is often done, a tap each; the words can be changed. */
export const PHRASES = [
  'Measured again.',
  'Adjusted the machine.',
  'Changed the tool.',
  'Stopped and told the supervisor.',
];
