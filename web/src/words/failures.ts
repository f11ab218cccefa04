import { AWAY, Failure } from '../api/client';
import { capital, inWords } from './numbers';
import { stretch, when } from './time';

interface Refusal {
  code: string;
  piece?: number;
  given?: string | number;
  inspected?: number;
  tag?: string;
  allowed?: number;
  expected?: number | string | null;
  lower?: number | null;
  upper?: number | null;
}

/** "between 1 and 15", "of at least 1", "of at most 15". */
export function within(lower?: number | null, upper?: number | null): string {
  if (lower != null && upper != null) return `between ${lower} and ${upper}`;
  return lower != null ? `of at least ${lower}` : `of at most ${upper ?? ''}`;
}

/** Why one reading is refused, and what would be right. */
export function refusal(r: Refusal): string {
  switch (r.code) {
    case 'not_a_number':
      return `“${r.given ?? ''}” is not a number. Digits with a decimal point or comma are right.`;
    case 'blank':
      return `Piece ${r.piece ?? ''} has no reading yet.`;
    case 'other_unit':
      return `“${r.given ?? ''}” is another unit; this characteristic is measured in ${r.expected ?? ''}.`;
    case 'nothing_recorded':
      return 'Every piece is left out. A sample that is not taken is skipped instead.';
    case 'inspected':
      return r.expected == null ? 'How many were inspected is missing: a whole number from 1 up.' : `Always ${r.expected} are inspected here.`;
    case 'more_than_inspected':
      return `${r.given ?? ''} do not conform, but only ${r.inspected ?? ''} were inspected. A unit counts once, whatever is wrong with it.`;
    case 'defects':
      return 'A count cannot be read. Another kind needs a word.';
    case 'tag':
      return `The ${r.tag ?? 'tag'} cannot be kept. Up to 80 characters are right.`;
    case 'other_kind':
      return 'Readings and counts are mixed up. Load the page again.';
    case 'too_many_decimals':
      return `${r.given ?? ''} has too many decimals. This unit takes ${r.allowed === 0 ? 'whole numbers' : `at most ${r.allowed ?? 0}`}.`;
    case 'outside_hard_bounds':
      return `${r.given ?? ''} cannot be measured here. Values ${within(r.lower, r.upper)} can.`;
    case 'wrong_count':
      return `A sample has ${r.expected ?? ''} readings; ${r.given ?? ''} came.`;
    default:
      return 'This reading is refused.';
  }
}

export function refusals(failure: Failure): Refusal[] {
  return Array.isArray(failure.params.refusals) ? (failure.params.refusals as Refusal[]) : [];
}

/** What a field is called where it is typed, and what it is asked for. */
const FIELDS: Record<string, string> = {
  reason: 'Say why it is changed, in 1 to 2000 characters.',
  because: 'Say why, in 1 to 2000 characters.',
  text: 'Write at least a word, and at most 2000 characters.',
  action: 'Say what was done, in 1 to 2000 characters.',
  remark: 'Say why, or what is asked, in 1 to 2000 characters.',
  cause_text: 'Say the cause in a few words.',
  cause: 'Choose one cause, or say that nothing was found.',
  pin: 'A PIN has 4 to 8 digits, not all alike and not counted up or down.',
  badge: 'A badge number has 8 to 32 letters and digits, not all alike and not counted up or down.',
  lot: 'Name the lot, in 1 to 80 characters.',
  pieces: 'Count from 1 to 1,000,000 pieces.',
  name: 'Give a name of 1 to 80 characters.',
};

function fieldRefused(field: string, expected: string): string {
  return FIELDS[field] ?? `${capital(field.replaceAll('_', ' '))} needs ${expected}.`;
}

/** Why something had to wait on the device, where the page goes on to say that it is kept. */
export function whyWaiting(error: unknown): string {
  const failure = error instanceof Failure ? error : new Failure('unknown');
  if (failure.code === 'database_away') return 'The server has lost its database.';
  return failure.status >= 500 ? 'The server failed.' : sentenceFor(error);
}

/** Any failure as a sentence: what is wrong and what to do. */
export function sentenceFor(error: unknown): string {
  if (!(error instanceof Failure)) return 'Something in this page failed. Load it again; nothing saved is lost.';
  const { code, params } = error;
  switch (code) {
    case AWAY:
      return 'The server cannot be reached.';
    case 'device_is_full':
      return 'This device cannot keep entries: its storage is full or switched off. Nothing was saved; what you typed is still here.';
    case 'run_rejected':
      return 'The run is rejected and may not be released. Repeat it, or have the verdict overridden.';
    case 'run_incomplete':
      return 'Levels are missing, so the run may not be released. Repeat it with all of them, or let a supervisor decide.';
    case 'own_run':
      return 'Whoever ran it neither overrides nor releases a run that was not accepted. Somebody else does.';
    case 'run_released':
      return 'The run is released already.';
    case 'run_repeated':
      return 'The run was repeated already; what repeats it is the one to go on with.';
    case 'run_not_rejected':
      return 'There is no rejection to override.';
    case 'in_a_run':
      return 'This level is measured in a run, with the others of its bench. Lab is the place for it.';
    case 'run_results':
      return 'The results do not fit the levels of this bench. Load the page again.';
    case 'results_refused':
      return 'A result cannot be kept as it is; its field says why.';
    case 'confirm_results':
      return 'A result is unusual here. Was it measured so?';
    case 'confirm_readings':
      return 'A reading is unusual here. Was it measured so?';
    case 'not_signed_in':
      return 'The session has ended. Sign in again to go on.';
    case 'wrong_sign_in':
      return 'Name or password is wrong.';
    case 'wrong_pin':
      return params.tries_left === 0 ? 'The PIN is wrong. Only the password helps now.' : `The PIN is wrong. ${capital(inWords(Number(params.tries_left)))} more ${params.tries_left === 1 ? 'try' : 'tries'}.`;
    case 'pin_blocked':
      return 'The PIN was wrong too often. Sign in by name and password; then it can be used again.';
    case 'unknown_here':
      return 'Nobody known at this device has that. Sign in by name and password once.';
    case 'too_many_tries':
      return `Too many tries that did not fit. The next one is heard in ${Number(params.retry_after_seconds) < 90 ? `${Number(params.retry_after_seconds)} s` : stretch(Number(params.retry_after_seconds) * 1000 + 30_000)}.`;
    case 'busy':
      return 'The server is at work on other analyses. Try again in a moment.';
    case 'not_allowed':
      return 'Your role does not allow this.';
    case 'own_answer':
      return 'You answered this signal. Somebody else reviews it.';
    case 'missing':
      return `There is no such ${typeof params.object === 'string' ? params.object : 'thing'} any more.`;
    case 'changed':
      return 'Somebody acted on this signal first. It is shown as it stands now; what you typed is still here.';
    case 'taken':
      return 'There is another one of that name.';
    case 'not_your_sample':
      return 'Who entered a sample may change it, or a supervisor.';
    case 'shift_is_over':
      return 'The shift of this sample is over. A supervisor may still change it.';
    case 'has_samples':
      return 'Kind of data, pieces, unit and counted kinds stay as they are once there are samples. Copy the characteristic instead.';
    case 'confirm_time':
      return `This is entered as of ${when(String(params.taken_at))}, more than a month ago. Was it then, or does the clock of this device stand wrong?`;
    case 'too_early':
      return 'The time of the entry lies before 1970. Check the clock of this device.';
    case 'stepped_aside':
      return 'The server failed at this entry each time it was sent. The others have gone on without it.';
    case 'behind_another':
      return 'An entry before it is tried again first.';
    case 'zero_character':
      return 'A text holds a character that cannot be kept (U+0000). Type it again.';
    case 'from_the_future':
      return 'The time of the sample lies in the future. Check the clock of this device.';
    case 'entry_reused':
      return 'This entry was saved before with other readings. Load the page again to start a fresh one.';
    case 'readings_refused':
      return refusals(error).map(refusal).join(' ');
    case 'field_refused':
      return fieldRefused(String(params.field), typeof params.expected === 'string' ? params.expected : '');
    case 'database_away':
      return 'The server has lost its database. Nothing was saved; try again in a moment.';
    default:
      return error.status >= 500 ? 'The server failed. Nothing was saved; try again in a moment.' : 'The server refused the request.';
  }
}
