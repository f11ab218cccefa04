import type { TrailEntry } from '../api/client';
import { when } from './time';

/** What was done, as the trail's list says it. */
export const DEEDS: Record<TrailEntry['action'], string> = {
  sample_saved: 'Sample saved',
  sample_skipped: 'Sample skipped',
  sample_corrected: 'Sample corrected',
  sample_withdrawn: 'Sample withdrawn',
  samples_imported: 'Samples brought in',
  recipe_kept: 'Recipe kept',
  recipe_changed: 'Recipe changed',
  signal_raised: 'Signal raised',
  signal_grown: 'Signal grew',
  signal_reshaped: 'Signal reshaped',
  signal_withdrawn: 'Signal withdrawn',
  signal_taken_up: 'Signal taken up again',
  signal_gathered: 'Signal joined an episode',
  episode_answered: 'Episode answered',
  answer_added_to: 'Answer added to',
  episode_reviewed: 'Episode reviewed',
  episode_escalated: 'Raised to supervisors',
  reviews_signed: 'Decisions signed',
  sample_set_aside: 'Point set aside',
  sample_taken_back: 'Point taken back',
  restart_marked: 'Restart marked',
  restart_undone: 'Restart undone',
  restart_planned: 'Restart asked for',
  restart_dropped: 'Restart asked for taken back',
  cause_added: 'Cause added',
  cause_proposed: 'Cause proposed',
  cause_changed: 'Cause changed',
  signal_answered: 'Signal answered',
  signal_reviewed: 'Signal reviewed',
  note_written: 'Note written',
  note_changed: 'Note changed',
  limits_put_in_force: 'Limits put in force',
  limits_kept: 'Limits kept',
  event_recorded: 'Event recorded',
  pieces_counted: 'Pieces counted',
  station_set_up: 'Station set up',
  product_set_up: 'Product set up',
  characteristic_set_up: 'Characteristic set up',
  characteristic_changed: 'Characteristic changed',
  phase_started: 'Phase started',
  phase_moved: 'Start of phase moved',
  phase_merged: 'Phase merged',
  phase_renamed: 'Phase renamed',
  phase_declined: 'No phase begun',
  run_saved: 'Run saved',
  run_judged_again: 'Run judged again',
  run_released: 'Run released',
  run_overridden: 'Verdict overridden',
  run_reviewed: 'Run reviewed',
  run_acted_on: 'Action on a run',
  analyte_set_up: 'Analyte set up',
  level_assigned: 'Mean and sd assigned',
  control_lot_begun: 'Control lot begun beside',
  control_lot_took_over: 'Control lot took over',
  rule_set_named: 'Rule set named',
  rule_set_changed: 'Rule set changed',
  device_set_up: 'Device set up',
  device_changed: 'Device changed',
  device_revoked: 'Device revoked',
  pin_set: 'Set a PIN',
  badge_set: 'Set a badge',
  signed_in: 'Signed in',
  sign_in_failed: 'Sign-in that did not fit',
  signed_out: 'Signed out',
  handover_written: 'Words left to the next shift',
  handover_read: 'Handover read',
  notices_chosen: 'Notices by mail chosen',
  webhook_set_up: 'Webhook set up',
  webhook_changed: 'Webhook changed',
  person_added: 'Person added',
  person_changed: 'Person changed',
  person_closed: 'Account closed',
  person_reopened: 'Account opened again',
  password_reset: 'Given a new password',
  password_changed: 'Chose a password',
  pin_reset: 'PIN and badge taken away',
  sessions_ended: 'Sessions ended',
  study_kept: 'Study kept',
  study_changed: 'Study changed',
  study_frozen: 'Study frozen',
  study_signed: 'Study signed',
  cause_tree_started: 'Cause tree started',
  cause_tree_changed: 'Cause tree changed',
  ideas_changed: 'Ideas changed',
  peer_group_set_up: 'Peer group set up',
  peer_group_changed: 'Peer group changed',
  peer_results_given: 'Results given to a peer group',
  peer_results_withdrawn: 'Results taken back from a peer group',
  peer_statistics_told: 'Statistics of a peer group taken in',
  chain_begun: 'Chain of a characteristic begun',
  state_recorded: 'State written down',
};

export const TRAIL = {
  title: 'Trail',
  about:
    'Who did what, when, back to the beginning. Nothing here can be changed; each entry is sealed with the one before it.',
  trail: 'the trail',
  nothing: 'Nothing has been done yet.',
  nothingSuch: 'Nothing of the kind was done.',
  narrow: 'Narrow the trail',
  any: 'Any',
  who: 'Who',
  what: 'What',
  on: 'On',
  from: 'From',
  until: 'Before',
  older: 'Older entries',
  file: 'Download as CSV',
  columns: { when: 'When', who: 'Who', what: 'What', on: 'On', detail: 'Old and new values' },
  itself: 'Nuvek',
  site: 'the site',
  at: (characteristic: string, station: string) => `${characteristic}, ${station}`,
};

const IDENTITY = /^[0-9a-f]{8}-[0-9a-f-]{27}$/;

/** A stored value as a person reads it; identities say nothing to a person. */
function told(value: unknown): string | null {
  if (value === null || value === false) return null;
  if (typeof value === 'number') return String(Number(value.toPrecision(6)));
  if (typeof value === 'string') {
    if (IDENTITY.test(value)) return null;
    return /^\d{4}-\d\d-\d\dT/.test(value) ? when(value) : value.replaceAll('_', ' ');
  }
  if (Array.isArray(value)) return value.map(told).filter(Boolean).join('  ');
  return typeof value === 'object' ? detailInWords(value) : 'yes';
}

/** What stands in the values of an entry, as people call it; what is not listed is called so already. */
const VALUES: Record<string, string> = {
  at: 'given at',
  because: 'reason',
  by: 'shown',
  carried: 'limits carried over',
  center: 'centre',
  cause_text: 'cause in words',
  corrected: 'process corrected',
  corrected_at: 'process corrected at',
  answers_to: 'answers',
  defect_kinds: 'kinds of defect',
  held: 'held back',
  k: 'multiplier of sigma',
  keeps_scheme: 'earlier points keep their rules',
  login: 'sign-in',
  lsl: 'LSL',
  mean_n: 'mean size',
  named_rules: 'named rule set',
  new: 'now',
  nothing_found: 'nothing found',
  number: 'sample',
  old: 'before',
  person: 'who',
  place: 'from where',
  rule_set: 'rules',
  same_as: 'says the same as',
  sd: 'SD',
  sha256: 'SHA-256',
  sigma_between: 'sigma between',
  starts_at: 'from',
  taken_at: 'taken',
  undone_by: 'undone by',
  usl: 'USL',
};

const called = (name: string) => VALUES[name] ?? name.replaceAll('_', ' ');

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What changed, value by value: "state: open → answered". */
function changes(before: Record<string, unknown>, after: Record<string, unknown>): string[] {
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])];
  return names.flatMap((name) => {
    const [was, is] = [told(before[name] ?? null), told(after[name] ?? null)];
    return was === is ? [] : [`${called(name)}: ${was ?? '–'} → ${is ?? '–'}`];
  });
}

/** Old and new values of an entry. */
export function detailInWords(value: object): string {
  const { old: before, new: after, ...rest } = value as Record<string, unknown>;
  const both = isObject(before) && isObject(after);
  const others = Object.entries(both ? rest : value)
    .map(([name, v]) => [called(name), told(v)] as const)
    .filter(([, text]) => text !== null && text !== '')
    .map(([name, text]) => `${name}: ${text ?? ''}`);
  return [...(both ? changes(before, after) : []), ...others].join(', ');
}
