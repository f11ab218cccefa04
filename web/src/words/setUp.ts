import type { WrongField } from '../api/client';
import { factsOf, isFailure } from '../api/failure';
import { sentenceFor } from './failures';
import { allowed } from './fields';
import { capital } from './numbers';
import { SET_UP } from './setUpForm';

/** What a field of a set-up is asked for where it is typed, as a person would say it. */
const SENTENCES: Record<string, string> = {
  name: 'Give it a name of 1 to 80 characters.',
  unit: 'Say in what it is measured, or what is inspected, in 1 to 80 characters.',
  sampling: 'Say how often: every 1 to 100,000 minutes, or every 1 to 10,000,000 pieces.',
  hard_bounds: 'The value to the left lies below the one to the right.',
  soft_bounds: 'The value to the left lies below the one to the right.',
  specification: 'The lower limit lies below the target, and the target below the upper limit.',
  rule_set: 'A rule has a number that it cannot have.',
  escalates_after: 'Say how long an episode may stay open: 1 to 1440 minutes.',
  reaction_plan: 'At most 20 steps, each of 1 to 500 characters.',
  labels: 'At most 20 labels, each another word of 1 to 80 characters.',
  components: 'At most 20 components, each another word of 1 to 80 characters.',
  feature: 'Name the feature in 1 to 80 characters, or leave it empty.',
};

/** What is right, where several things can be wrong with one field. */
function inWords(wrong: WrongField): string {
  switch (wrong.allowed.code) {
    case 'no_shift':
      return 'The shift is known from the calendar; it need not be asked.';
    case 'parts':
      return `At most ${wrong.allowed.most} parts, each with a name of its own, a nominal, and a sigma above 0 or none.`;
    case 'names':
      return `At most ${wrong.allowed.most}, each another word of 1 to 80 characters.`;
    case 'individuals_for_single_readings':
      return 'This chart does not fit the number of pieces. Single readings have the chart of individuals.';
    case 'shares_or_rates':
      return 'Where the number inspected varies, only a share or a rate can be compared.';
    case 'own_letters':
      return 'Each kind has a letter of its own, A to Z without O and U.';
    default:
      return `${capital(allowed(wrong))} is right here.`;
  }
}

function wrongs(error: unknown): readonly WrongField[] {
  return factsOf(error, 'set_up_refused')?.wrong ?? [];
}

/** What is asked for in each field that is refused. */
export function wrongFields(error: unknown): Record<string, string> {
  return Object.fromEntries(wrongs(error).map((wrong) => [wrong.field, SENTENCES[wrong.field] ?? inWords(wrong)]));
}

/** Why a set-up cannot be, where no form stands beside it. */
export function whyNot(error: unknown): string {
  const wrong = Object.values(wrongFields(error));
  return wrong.length > 0 ? wrong.join(' ') : setUpSentence(error);
}

/** A failure of a set-up as a sentence; what is wrong with a field stands at the field. */
export function setUpSentence(error: unknown): string {
  if (wrongs(error).length > 0) return SET_UP.anotherLook;
  if (isFailure(error, 'changed'))
    return 'Somebody changed it meanwhile. Open it again from the plan to see how it stands now.';
  return sentenceFor(error);
}
