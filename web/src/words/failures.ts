import type { ReadingRefusal } from '../api/client';
import { type Code, Failure, type Fault } from '../api/failure';
import { fieldRefused } from './fields';
import { capital, inWords, plural } from './numbers';
import { object } from './objects';
import { statisticsRefused } from './peers';
import { recipeRefused, rowsKnownBy } from './recipes';
import { EPISODE } from './signalPages';
import { STATES } from './signals';
import { studyRefusal } from './studies';
import { stretch, when } from './time';

/** "between 1 and 15", "of at least 1", "of at most 15". */
export function within(lower?: number | null, upper?: number | null): string {
  if (lower != null && upper != null) return `between ${lower} and ${upper}`;
  return lower != null ? `of at least ${lower}` : `of at most ${upper ?? ''}`;
}

/** The piece that a reading is refused for, from 1; nothing where it is the sample. */
export function pieceOf(r: ReadingRefusal): number | null {
  return 'piece' in r ? r.piece : null;
}

/** Why one reading is refused, and what would be right. */
export function refusal(r: ReadingRefusal): string {
  switch (r.code) {
    case 'not_a_number':
      return `“${r.given}” is not a number. Digits with a decimal point or comma are right.`;
    case 'blank':
      return `Piece ${r.piece} has no reading yet.`;
    case 'other_unit':
      return `“${r.given}” is another unit; this characteristic is measured in ${r.expected}.`;
    case 'nothing_recorded':
      return 'Every piece is left out. A sample that is not taken is skipped instead.';
    case 'inspected':
      return r.expected == null
        ? 'How many were inspected is missing: a whole number from 1 up.'
        : `Always ${r.expected} are inspected here.`;
    case 'more_than_inspected':
      return `${r.given} do not conform, but only ${r.inspected} were inspected. A unit counts once, whatever is wrong with it.`;
    case 'defects':
      return 'A count cannot be read. Another kind needs a word.';
    case 'between':
      return r.given === ''
        ? 'How many came since the one before is missing: a whole number from 0 up.'
        : `“${r.given}” is no whole number from 0 up.`;
    case 'part':
      return r.given === '' ? 'Choose the part.' : `${r.given} is none of the parts of this chart.`;
    case 'tag':
      return `The ${r.tag} cannot be kept. Up to 80 characters are right.`;
    case 'other_kind':
      return 'Readings and counts are mixed up. Load the page again.';
    case 'too_many_decimals':
      return `${r.given} has too many decimals. This unit takes ${r.allowed === 0 ? 'whole numbers' : `at most ${r.allowed}`}.`;
    case 'outside_hard_bounds':
      return `${r.given} cannot be measured here. Values ${within(r.lower, r.upper)} can.`;
    case 'wrong_count':
      return `A sample has ${r.expected} readings; ${r.given} came.`;
  }
}

/** Every refusal of a reading that a failure tells of. */
export function refusals({ fault }: Failure): readonly ReadingRefusal[] {
  return fault.code === 'readings_refused' ? fault.params.refusals : [];
}

/** Why something had to wait on the device, where the page goes on to say that it is kept. */
export function whyWaiting(failure: Failure): string {
  if (failure.code === 'database_away') return 'The server has lost its database.';
  return failure.status >= 500 ? 'The server failed.' : sentenceFor(failure);
}

/** Any failure as a sentence: what is wrong and what to do. */
export function sentenceFor(error: unknown): string {
  if (!(error instanceof Failure)) return 'Something in this page failed. Load it again; nothing saved is lost.';
  return sentence(error.fault) ?? unnamed(error.status);
}

/** What an older page says of a code that it does not know. */
function unnamed(status: number): string {
  return status >= 500
    ? 'The server failed. Nothing was saved; try again in a moment.'
    : 'The server refused the request.';
}

/** A sentence for every code there is: who adds one is told here that it has none. */
function sentence(fault: Fault): string | null {
  switch (fault.code) {
    case 'away':
      return 'The server cannot be reached.';
    case 'unknown':
      return null;
    case 'held':
      return 'It is kept on this device and goes through in a moment.';
    case 'device_is_full':
      return 'This device cannot keep entries: its storage is full or switched off. Nothing was saved; what you typed is still here.';
    case 'stepped_aside':
      return 'The server failed at this entry each time it was sent. The others have gone on without it.';
    case 'behind_another':
      return 'An entry before it is tried again first.';
    case 'not_signed_in':
      return 'The session has ended. Sign in again to go on.';
    case 'wrong_sign_in':
      return 'Name or password is wrong.';
    case 'wrong_pin': {
      const { tries_left: left } = fault.params;
      if (left === 0) return 'The PIN is wrong. Only the password helps now.';
      return `The PIN is wrong. ${capital(inWords(left))} more ${left === 1 ? 'try' : 'tries'}.`;
    }
    case 'pin_blocked':
      return 'The PIN was wrong too often. Sign in by name and password; then it can be used again.';
    case 'unknown_here':
      return 'Nobody known at this device has that. Sign in by name and password once.';
    case 'unknown_token':
      return 'The token of the device is not known, or was revoked.';
    case 'too_many_tries': {
      const seconds = fault.params.retry_after_seconds;
      return `Too many tries that did not fit. The next one is heard in ${seconds < 90 ? `${seconds} s` : stretch(seconds * 1000 + 30_000)}.`;
    }
    case 'recipe_refused':
      return recipeRefused(fault.params);
    case 'cells_refused':
      return `${plural(fault.params.cells, { one: 'One cell', other: `${fault.params.cells} cells` })} cannot be read. Nothing was stored; mend them, or bring in only what is right.`;
    case 'rows_refused':
      return `${plural(fault.params.rows.length, { one: 'One row', other: `${fault.params.rows.length} rows` })} cannot be kept. Nothing was stored.`;
    case 'another_list':
      return `${fault.params.changed} of ${fault.params.changed + fault.params.same} known rows differ. Name the list otherwise, or say that it is the same.`;
    case 'known_otherwise':
      return `The rows of this list are known by ${rowsKnownBy(fault.params.key)} since it was first brought in. Take the same again, or name the list otherwise.`;
    case 'event_there':
      return 'An event was entered for this very moment. Two cannot be told apart; give the time to the minute it happened.';
    case 'busy':
      return 'The server is at work on other analyses. Try again in a moment.';
    case 'not_allowed':
      return 'Your role does not allow this.';
    case 'password_to_choose':
      return 'Choose a password of your own first.';
    case 'not_your_station':
      return 'You enter samples at your own stations alone. Whoever looks after people can change that.';
    case 'last_administrator':
      return 'Nobody would be left to look after people. Make somebody else an administrator first.';
    case 'cross_site':
      return 'The request came from another site and was refused. Open Nuvek by its own address.';
    case 'malformed':
    case 'wrong_form':
    case 'not_json':
      return 'The server could not read the request. Load the page again; what you typed is kept.';
    case 'too_large':
      return 'That is more than the server takes at once.';
    case 'zero_character':
      return 'A text holds a character that cannot be kept (U+0000). Type it again.';
    case 'field_refused':
      return fieldRefused(fault.params);
    case 'set_up_refused':
      return fault.params.wrong.map(fieldRefused).join(' ');
    case 'study_refused':
      return studyRefusal(fault.params);
    case 'statistics_unreadable':
      return `The file cannot be read at line ${fault.params.row}: ${fault.params.detail}`;
    case 'statistics_refused':
      return statisticsRefused(fault.params.refused);
    case 'request_refused':
      return `${fault.params.path}: ${fault.params.given} cannot be.`;
    case 'readings_refused':
      return fault.params.refusals.map(refusal).join(' ');
    case 'confirm_readings':
      return 'A reading is unusual here. Was it measured so?';
    case 'results_refused':
      return 'A result cannot be kept as it is; its field says why.';
    case 'confirm_results':
      return 'A result is unusual here. Was it measured so?';
    case 'confirm_time':
      return `This is entered as of ${when(fault.params.taken_at)}, more than a month ago. Was it then, or does the clock of this device stand wrong?`;
    case 'from_the_future':
      return 'The time of the sample lies in the future. Check the clock of this device.';
    case 'too_early':
      return 'The time of the entry lies before 1970. Check the clock of this device.';
    case 'missing':
      return `There is no such ${object(fault.params.object)} any more.`;
    case 'changed':
      return `Somebody changed this ${object(fault.params.object)} first. It is shown as it stands now; what you typed is still here.`;
    case 'entry_reused':
      return 'This entry was saved before with other contents. Load the page again to start a fresh one.';
    case 'taken':
      return fault.params.field === 'badge'
        ? 'This badge number is somebody else’s.'
        : 'There is another one of that name.';
    case 'has_samples':
      return 'Kind of data, pieces, unit and counted kinds stay as they are once there are samples. Copy the characteristic instead.';
    case 'not_your_sample':
      return 'Who entered a sample may change it, or a supervisor.';
    case 'not_your_note':
      return 'Who wrote a note changes it. You can answer it.';
    case 'shift_is_over':
      return 'The shift of this sample is over. A supervisor may still change it.';
    case 'too_few_points':
      return fault.params.found < fault.params.needed
        ? `Limits need ${fault.params.needed} points. There are ${fault.params.found} so far.`
        : 'These points do not differ, and limits need some that do.';
    case 'not_on_trial':
      return 'These limits belong to an earlier phase. Limits of the latest phase can be put in force.';
    case 'not_in_force':
      return 'There are no limits in force to go on with. Let the phase begin on trial, or put limits in force first.';
    case 'nothing_left':
      return 'This is the last point that is left in the phase. Limits need points; take others back first.';
    case 'said_already':
      return 'That is said of this point already. It is shown as it stands now.';
    case 'not_said':
      return 'That is not said of this point any more. It is shown as it stands now.';
    case 'nothing_measured':
      return 'Nothing was measured there. Choose a sample with readings or counts.';
    case 'phase_there':
      return 'A phase begins at this sample already.';
    case 'first_phase':
      return 'The first phase holds everything from the beginning; there is nothing before it.';
    case 'empty_phase':
      return 'A phase would be left without any point. Choose a sample between the first ones of the phases beside it.';
    case 'reason_needed':
      return 'Something speaks against these limits; it is said above. Say why they are put in force all the same.';
    case 'judging_again':
      return 'Points of this characteristic are being judged again. The next change can be made when that is done.';
    case 'finding_gone':
      return 'Nothing of it holds any more, so nobody can be asked back. Accept, or overrule with a reason.';
    case 'episode_stands':
      return `The episode is ${STATES[fault.params.state].toLowerCase()} already. It is shown as it stands now; what you typed is still here.`;
    case 'own_part':
      return EPISODE.notTheirs[fault.params.part];
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
    case 'run_not_settled':
      return 'The run is accepted, and waits for its release. There is nothing to review yet.';
    case 'run_not_rejected':
      return 'There is no rejection to override.';
    case 'in_a_run':
      return 'This level is measured in a run, with the others of its bench. Lab is the place for it.';
    case 'run_results':
      return 'The results do not fit the levels of this bench. Load the page again.';
    case 'database_away':
      return 'The server has lost its database. Nothing was saved; try again in a moment.';
    case 'internal':
      return 'The server failed. Nothing was saved; try again in a moment.';
  }
}

/** What asks to be confirmed rather than mended. */
const ASKED: ReadonlySet<Code> = new Set<Code>(['confirm_readings', 'confirm_results', 'confirm_time']);

export function isAsked({ code }: Failure): boolean {
  return ASKED.has(code);
}
