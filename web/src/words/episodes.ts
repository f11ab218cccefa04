import type { EpisodeRun, Pattern, Side } from '../api/client';
import { LAB_RULES } from './labRules';
import { capital, inWords, plural } from './numbers';
import { meaning, panelName, patternLabel, sentence, spanLabel } from './signals';
import { when } from './time';

/** What the sentence of an episode is made from. */
export interface EpisodeFacts {
  side?: Side | null;
  from_number: number;
  to_number: number;
  since: string;
  /** When the last of its samples was taken. */
  until: string;
  /** The run of the laboratory that it is of. */
  run?: EpisodeRun | null;
  /** The most telling first. */
  patterns: readonly Pattern[];
}

/** What the process did, the most telling thing first: one sentence, however many rules were broken. */
export function episodeSentence(episode: EpisodeFacts): string {
  const [first, ...others] = episode.patterns;
  if (!first) return '';
  if (episode.run) return runSentence(episode.run, episode);
  if (others.length === 0 && first.signals === 1) return sentence({ ...episode, ...first });
  const found = episode.patterns.map((pattern) => part(pattern, first));
  return `The ${panelName(first.panel).toLowerCase()} ${went(episode.side, first)} since sample ${episode.from_number} (${when(episode.since)}): ${found.join(', ')}.`;
}

/** What a run breaks; what its levels' charts say beside that is the same, less sharply said. */
function runSentence(run: EpisodeRun, { patterns, until }: EpisodeFacts): string {
  const rules = patterns.flatMap(({ rule }) => (rule.kind === 'multirule' ? [rule.rule] : []));
  const said = rules.length > 0 ? rules.map((rule) => `${LAB_RULES[rule]} (${rule})`) : patterns.map(labelOf);
  // A pattern may have begun runs before.
  return `Run ${run.number} (${when(until)}) is out of control: ${[...new Set(said)].join('; ')}.`;
}

const labelOf = ({ rule, side }: Pattern) => patternLabel(rule, side);

/** Where it went. */
function went(side: Side | null | undefined, { rule, side: way }: Pattern): string {
  if (side === 'above') return 'has run high';
  if (side === 'below') return 'has run low';
  if (way === 'rising') return 'has risen';
  if (way === 'falling') return 'has fallen';
  switch (rule.kind) {
    case 'hugging':
      return 'has stayed close to the centre line';
    case 'alternating':
      return 'has gone up and down by turns';
    default:
      return 'has stayed away from the centre line';
  }
}

/** One rule within the sentence. */
function part({ rule, side, panel, points, signals }: Pattern, first: Pattern): string {
  const of = panel === first.panel ? '' : ` (${panelName(panel).toLowerCase()})`;
  const often = signals === 1 ? '' : signals === 2 ? ', twice' : `, ${inWords(signals)} times`;
  switch (rule.kind) {
    case 'beyond':
      return `${inWords(signals)} beyond the limit${of}`;
    case 'one_side':
      return `${inWords(points)} in a row ${side === 'above' ? 'above' : 'below'} the centre line${often}${of}`;
    case 'trend':
      return `${inWords(points)} in a row ${side === 'rising' ? 'rising' : 'falling'}${often}${of}`;
    case 'm_of_n':
      return `${inWords(rule.m)} of ${inWords(rule.n)} beyond ${rule.k} sigma${often}${of}`;
    case 'multirule':
      return patternLabel(rule, side);
    case 'alternating':
    case 'hugging':
    case 'avoiding':
      return `${patternLabel({ ...rule, n: points }, side)}${often}${of}`;
  }
}

/** What such a pattern usually comes from. */
export function episodeMeaning({ patterns: [first] }: EpisodeFacts): string {
  return first ? meaning(first.rule, first.panel) : '';
}

/** The wording of its bar on the chart. */
export function episodeLabel(patterns: readonly Pattern[]): string {
  const [first, ...others] = patterns;
  if (!first) return '';
  const label = spanLabel(first.rule, first.side, first.panel);
  const more = others.reduce((sum, pattern) => sum + pattern.signals, first.signals - 1);
  return more === 0 ? label : `${label}, and ${inWords(more)} more`;
}

/** The wording of a bar that stands for several episodes. */
export function othersBeside(label: string, others: number): string {
  return `${label}; ${plural(others, { one: 'another episode', other: `${others} other episodes` })} close by`;
}

/** How many episodes ask for an answer, said where the work is. */
export function waitForAnswer(episodes: number): string {
  return plural(episodes, {
    one: 'An episode waits for an answer',
    other: `${capital(inWords(episodes))} episodes wait for an answer`,
  });
}
