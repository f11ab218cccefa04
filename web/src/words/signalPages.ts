import type {
  CorrectedProcess,
  Decision,
  EpisodeRow,
  EpisodeView,
  NotTheirs,
  SignalState,
  WithdrawnReason,
} from '../api/client';
import { plural } from './numbers';
import { STATES } from './signals';
import { ago, when } from './time';

/** The list of episodes. */
export const SIGNALS_LIST = {
  title: 'Signals',
  which: 'Which episodes',
  episodes: 'the episodes',
  filters: {
    open: STATES.open,
    sent_back: STATES.sent_back,
    answered: 'To review',
    found_late: STATES.found_late,
    reviewed: STATES.reviewed,
    all: 'All',
  } satisfies Record<SignalState | 'all', string>,
  nothing: {
    open: 'No episode waits for an answer.',
    sent_back: 'No answer was sent back.',
    answered: 'No answer waits for review.',
    found_late: 'Nothing was found too late to be asked about.',
    reviewed: 'Nothing has been reviewed yet.',
    all: 'No rule has been broken yet.',
  } satisfies Record<SignalState | 'all', string>,
  nothingSuch: 'No episode is like that.',
  more: 'More episodes',
  columns: { state: 'State', sentence: 'What the process did', where: 'Where', raised: 'Raised', answer: 'Answer' },
};

/** Where an episode stands, in the list. */
export function standing(episode: EpisodeRow): string {
  const gone = episode.gone ? 'holds no more · ' : '';
  if (asks(episode) && episode.escalated_at != null) return gone + raisedToSupervisors(episode.escalated_at);
  if (episode.answered_by == null) return gone + (episode.state === 'open' ? openFor(episode.raised_at) : '');
  return `${gone}${episode.cause ?? 'Nothing found'} (${episode.answered_by})`;
}

const asks = ({ state }: { state: SignalState }) => state === 'open' || state === 'sent_back';

/** It was open too long. */
export function raisedToSupervisors(at: string): string {
  return `◆ open too long: raised to supervisors ${when(at)}`;
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

/** One episode and what is to be done about it. */
export const EPISODE = {
  episode: 'the episode',
  title: 'Episode',
  chart: 'Chart',
  theChart: 'the chart',
  raised: (at: string) => `raised ${when(at)}`,
  foundLate: 'It was found too late to ask a technician: it is for review.',
  gone: 'Nothing of it holds any more.',
  goesOnFrom: (from: number, to: number) => `It goes on from samples ${from} to ${to}, which were reviewed.`,
  signals: (count: number) => (count === 1 ? 'What was found' : `What was found: ${count} signals`),
  run: (number: number) => `run ${number} with all its results`,
  samples: (from: number, to: number) => (from === to ? `sample ${from}` : `samples ${from} to ${to}`),
  itsSamples: 'Its samples',
  moreSamples: (more: number) => `And ${more} more on the chart.`,
  foundAmong: 'Found after a sample came late or was changed.',
  withdrawn: (at: string, reason: WithdrawnReason) =>
    `Withdrawn ${when(at)}: ${WITHDRAWN[reason]}, and the finding no longer holds.`,
  cleared: (person: string) => `${person} made it go away; somebody else reviews that.`,
  answered: (person: string, at: string) => `${person} answered ${when(at)}`,
  answeredPart: (of: number, all: number) => `for ${of} of ${all} signals`,
  reviewed: (person: string, at: string) => `${person} reviewed ${when(at)}`,
  nothingFound: 'Looked, nothing found',
  actedFirst: 'Somebody acted on this episode first; it is shown above as it stands now. What you typed is still here.',
  putAway: 'Put it away',
  waitsForSupervisor: 'Waits for the supervisor.',
  notTheirs: {
    own_answer: 'You answered this episode; somebody else reviews it.',
    own_change: 'You made a finding of this episode go away; somebody else reviews that.',
    own_sample: 'You entered or corrected a sample of this episode; somebody else reviews it.',
  } satisfies Record<NotTheirs, string>,
  held: 'What was made since the last clean sample is held.',
  notHeld: 'What was made since the last clean sample is not held.',
  answer: 'Answer',
  see: 'See it.',
};

/** Where an episode stands that no longer asks. */
export function isNow({ state }: EpisodeView): string {
  return `This episode is ${STATES[state].toLowerCase()}.`;
}

/** Asking for cause and action. */
export const ANSWER = {
  title: 'Answer',
  cause: 'What was the cause?',
  chooseCause: 'Choose a cause, or say that nothing was found.',
  another: 'Another cause',
  nothing: 'Looked, nothing found',
  orElse: 'Or',
  causeInWords: 'The cause, in words',
  propose: 'Propose it for the catalogue',
  proposeShorter: 'For the catalogue say it in at most 80 characters.',
  corrected: 'The process was corrected: its rules start afresh with the next sample',
  waits: 'Your answer is on this device. It goes through by itself as soon as the server can be reached.',
  sayCause: 'Say the cause in a few words.',
  done: 'What was done',
  sayDone: 'Say what was done, even if it was only looking.',
  lookedOnly: 'Looked, nothing found.',
  tooLong: 'This is longer than 2000 characters.',
  phrases: 'Ready phrases',
  steps: 'Reaction plan, step by step',
  comment: 'What else there is to say',
  isHeld: 'Is it held?',
  held: 'It is held',
  notHeld: 'It is not held',
  sameAs: (at: string) => `The same cause as ${when(at)}`,
  save: 'Save answer',
  later: 'Answer later',
};

/** Where rules start afresh after a correction. */
export function CORRECTED({ sample, dropped }: CorrectedProcess): string {
  const said = 'The process was corrected';
  if (dropped) return `${said}; its restart was taken back.`;
  return sample == null
    ? `${said}: rules start afresh with the next sample.`
    : `${said}: rules start afresh with sample ${sample}.`;
}

/** What is added to an answer later. */
export const ADDITION = {
  title: 'Add to this answer',
  begin: 'Add to it …',
  comment: 'What there is to add',
  add: 'Add',
  leave: 'Leave it',
  added: (person: string, at: string) => `${person} added ${when(at)}`,
};

/** Photos and documents. */
export const FILES = {
  add: 'Add a photo or document',
  remove: 'Remove',
  removeOf: (name: string) => `Remove ${name}`,
  refused: (name: string) => `${name} is no PNG, JPEG or PDF of at most 10 MB.`,
  tooMany: (most: number) => `At most ${most} go with one answer.`,
  deviceFull: 'This device cannot keep the file: it has no room left.',
  size: (bytes: number) =>
    bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`,
};

/** The supervisor's decision: its button, and what is asked with it. */
export const REVIEW = {
  title: 'Review',
  decide: 'Decision',
  needsWords: 'This decision needs words.',
  anyRemark: 'Remark, question or reason',
  thenSend: (button: string) => `Ctrl Enter: ${button.toLowerCase()}`,
  seenSays: 'Set as seen, it needs no answer.',
  skip: 'Leave for later',
  skipKey: 'L',
  button: { accepted: 'Accept', seen: 'Set as seen', sent_back: 'Send back', overruled: 'Overrule' } satisfies Record<
    Decision,
    string
  >,
  remark: { accepted: 'Remark', seen: 'Remark', sent_back: 'Question', overruled: 'Reason' } satisfies Record<
    Decision,
    string
  >,
};

/** Going through what waits for a review, one after the other. */
export const QUEUE = {
  title: 'Review',
  begin: (count: number) => plural(count, { one: 'Review the one that waits', other: `Review ${count}, one by one` }),
  left: (count: number) => plural(count, { one: '1 is left', other: `${count} are left` }),
  later: (count: number) => plural(count, { one: '1 left for later', other: `${count} left for later` }),
  done: 'Nothing is left to review.',
  onlyLater: 'What is left was left for later.',
  next: 'Next',
  takeLater: 'Take it up now',
  back: 'Back to the list',
};

/** Narrowing the list of episodes. */
export const FILTER = {
  title: 'Narrow the list',
  any: 'Any',
  area: 'Area',
  station: 'Station',
  product: 'Product',
  rule: 'Rule',
  cause: 'Cause',
  person: 'Person',
  limits: 'Limits',
  inForce: 'in force',
  onTrial: 'on trial',
  escalated: 'Answered in time',
  openTooLong: 'Open too long',
  from: 'Raised from',
  until: 'Raised before',
  where: 'Floor or laboratory',
  floor: 'Floor',
  laboratory: 'Laboratory',
  clear: 'Show all',
  found: (count: number) => plural(count, { one: '1 episode', other: `${count} episodes` }),
  saved: 'Kept filters',
  keepAs: 'Keep this filter as',
  keep: 'Keep',
};

/** One decision on many episodes. */
export const REVIEW_MANY = {
  title: 'Decide on many at once',
  chosen: (count: number) => plural(count, { one: '1 episode is chosen', other: `${count} episodes are chosen` }),
  kept: (count: number) =>
    count === 0 ? 'It was kept for none of them:' : `It was kept for ${count} of them, but not for these:`,
};

/** What is often done, a tap each; the words can be changed. */
export const PHRASES = [
  'Measured again.',
  'Adjusted the machine.',
  'Changed the tool.',
  'Stopped and told the supervisor.',
];
