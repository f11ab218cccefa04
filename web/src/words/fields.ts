import type { WrongField } from '../api/client';
import { capital, grouped } from './numbers';

/** What a field is asked for where it is typed. */
const FIELDS: Record<string, string> = {
  reason: 'Say why it is changed, in 1 to 2000 characters.',
  because: 'Say why, in 1 to 2000 characters.',
  text: 'Write at least a word, and at most 2000 characters.',
  action: 'Say what was done, in 1 to 2000 characters.',
  remark: 'Say why, or what is asked, in 1 to 2000 characters.',
  content: 'Choose a PNG or JPEG picture or a PDF document of at most 10 MB.',
  group: 'Choose a group.',
  cause_text: 'Say the cause in a few words.',
  cause: 'Choose one cause, or say that nothing was found.',
  pin: 'A PIN has 4 to 8 digits, not all alike and not counted up or down.',
  new: 'A password has at least 10 characters, does not hold the sign-in, is not what many people take, and is not the one before.',
  login: 'Give a name to sign in with, of 1 to 80 characters.',
  period: 'The period ends before it begins. Choose a later day for its end.',
  lines: 'A report is whole: 5,000 lines at most. Choose a shorter period, or one area.',
  email: 'A mailbox is written as name@host.',
  url: 'An address begins with http:// or https://, and holds no name and no password.',
  kinds: 'Choose at least one kind.',
  areas: 'A reader needs at least one area.',
  bound: 'Technicians alone are bound, and only where they belong.',
  badge: 'A badge number has 8 to 32 letters and digits, not all alike and not counted up or down.',
  lot: 'Name the lot, in 1 to 80 characters.',
  pieces: 'Count from 1 to 1,000,000 pieces.',
  name: 'Give a name of 1 to 80 characters.',
  source: 'Say where the figures come from, in 1 to 2000 characters.',
  samples: 'Name at least one sample.',
  until: 'Choose a day after today.',
  laboratory: 'Say what this laboratory is called there, in 1 to 80 characters.',
  token: 'A token has 1 to 500 visible characters without blanks.',
  levels: 'Name at least one level, each by a name of its own of 1 to 80 characters.',
  lower: 'The lower limit lies below the upper one.',
};

/** What a field may hold. */
export function allowed({ allowed }: WrongField): string {
  switch (allowed.code) {
    case 'text':
      return `a text of 1 to ${allowed.most} characters`;
    case 'name':
      return `1 to ${allowed.most} characters`;
    case 'names':
      return `at most ${allowed.most} names, each once`;
    case 'texts':
      return `at most ${allowed.most} steps of 1 to ${allowed.characters} characters`;
    case 'whole':
      return allowed.most === 0 ? '0' : `a whole number from ${grouped(allowed.least)} to ${grouped(allowed.most)}`;
    case 'people_with_a_bell':
      return 'people who are there and have a bell';
    case 'entries':
      return `${grouped(allowed.least)} to ${grouped(allowed.most)}, each once`;
    case 'number':
      return `a number up to ${allowed.size}`;
    case 'positive':
      return `a number above 0, up to ${allowed.most}`;
    case 'first_before_last':
      return 'a first sample that is not after the last';
    case 'figure_of_the_chart':
      return 'a figure that this chart is drawn from';
    case 'conforming_of_shares':
      return 'a chart of shares';
    case 'straight_for_counts':
      return 'a chart of counts';
    case 'nominals_of_parts':
      return 'no nominals: they belong to parts';
    case 'lower_below_upper':
      return 'a lower bound below the upper one';
    case 'lsl_below_target_below_usl':
      return 'LSL below target below USL';
    case 'chart_of_the_kind':
      return 'a chart for this kind of data';
    case 'individuals_for_single_readings':
      return 'individuals for single readings only';
    case 'shares_or_rates':
      return 'p or u where the number inspected varies';
    case 'fixed_number':
      return 'a fixed number of pieces for measured values';
    case 'never_for_rare_events':
      return 'never for rare events, and a time or a number of pieces for everything else';
    case 'hours':
      return 'h, for the time between events';
    case 'no_part':
      return 'no part: the list of parts says it';
    case 'parts':
      return `at most ${allowed.most} parts, each with a name of its own, a nominal, and a sigma above 0 or none`;
    case 'scales':
      return `at most ${allowed.most} scales, one a panel, each from a number to a larger one`;
    case 'thresholds':
      return `numbers above 0, up to ${allowed.most}, the lower not above the other`;
    case 'parameters_of_the_family':
      return 'all parameters of the family, those of spread and shape above 0';
    case 'share_below_half':
      return 'a share above 0 and below one half';
    case 'percentile_or_constants':
      return 'a percentile, or constants, not both';
    case 'weights':
      return `weights from 0, of at most ${allowed.most} kinds`;
    case 'share':
      return 'a share from 0 to 1';
    case 'confidence':
      return 'from 50 % to 99.99 %';
    case 'characteristic_of_own_rules':
      return 'a characteristic, where its own rules are weighed';
    case 'idea_of_the_tree':
      return `an idea of the same tree, at most ${allowed.deep} under one another`;
    case 'group_of_a_branch':
      return 'a group on a branch alone';
    case 'path_within_the_site':
      return 'a few words, and a link within this site, from / on';
    case 'found_true':
      return 'an idea that was found true';
    case 'day_to_come':
      return 'a day after today';
    case 'sampling':
      return `1 to ${grouped(allowed.minutes)} minutes, 1 to ${grouped(allowed.pieces)} pieces, each lot or each shift`;
    case 'rules_within_bounds':
      return 'rules within their bounds';
    case 'rules_of_the_set':
      return 'the rules of the version that is named';
    case 'no_shift':
      return 'no shift: the calendar says it';
    case 'nothing_for_counts':
      return 'none for counts';
    case 'nothing_for_measured_values':
      return 'none for measured values';
    case 'own_letters':
      return 'a letter of its own for each kind, A to Z without O and U';
    case 'one_cause':
      return 'one cause, or nothing found';
    case 'in_words_to_propose':
      return 'a cause in words, to be proposed';
    case 'group_in_use':
      return 'a group, for what answers can name';
    case 'in_use_or_retired':
      return 'in use, or retired';
    case 'another_when_retired':
      return 'another cause, once this one is retired';
    case 'picture_or_pdf':
      return `a PNG or JPEG picture or a PDF document of at most ${Math.round(allowed.bytes / 1048576)} MB`;
    case 'password':
      return `${allowed.least} to ${allowed.most} characters, without the sign-in, and not what many people take`;
    case 'pin':
      return `${allowed.least} to ${allowed.most} digits, not all alike and not counted up or down`;
    case 'badge':
      return `${allowed.least} to ${allowed.most} letters and digits, not all alike and not counted up or down`;
    case 'email':
      return `a mailbox as name@host, of at most ${allowed.most} characters`;
    case 'web_address':
      return `an address by http or https, of at most ${allowed.most} characters`;
    case 'not_as_before':
      return 'another one than before';
    case 'role_of_a_person':
      return 'a role that a person can play';
    case 'bound_where_they_belong':
      return 'for technicians who belong somewhere';
    case 'row_a_sample':
      return 'a row a sample, since these are counted and have no readings,';
    case 'columns':
      return `a shape of at most ${allowed.most} columns`;
    case 'samples':
      return `a stretch of at most ${allowed.most} samples`;
    case 'next_of_a_page':
      return 'what the page before said is next, and no time beside it';
    case 'folder_name':
      return `the name of one folder, of at most ${allowed.most} letters, digits, hyphens, underscores and dots,`;
    case 'host_and_port':
      return 'host:port';
    case 'topic_without_wildcards':
      return 'a topic without wildcards';
    case 'json_pointers':
      return 'JSON pointers such as /value';
    case 'making':
      return `every 1 to ${grouped(allowed.every)} values, or 1 to ${grouped(allowed.seconds)} seconds`;
    case 'kind_as_set_up':
      return 'the kind it was set up as';
  }
}

/** Why a field is refused, and what would be right. */
export function fieldRefused(wrong: WrongField): string {
  return FIELDS[wrong.field] ?? `${capital(wrong.field.replaceAll('_', ' '))} needs ${allowed(wrong)}.`;
}
