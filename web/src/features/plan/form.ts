import type { FieldPath, UseFormReturn } from 'react-hook-form';
import { v4 as uuid } from 'uuid';
import type { Characteristic, ListedRule, NamedRuleSet, Plan, Preset, Rule } from '../../api/client';
import { type OptionFields, optionFields, optionsOf } from './chartOptions';
import { type Named, namedBy, namedValue, rulesOf } from './namedRules';
import { number } from './typed';

/** What stands in the form of a characteristic: texts as typed. */
export interface Fields {
  station: string;
  product: string;
  name: string;
  kind: Characteristic['kind'];
  pieces: string;
  /** Whether always the same number is inspected. */
  same: 'yes' | 'no';
  taken: Characteristic['taken'];
  every: Characteristic['sampling']['every'];
  everyCount: string;
  /** Nothing while the recommended one is taken. */
  chart: Characteristic['chart'] | null;
  unit: string;
  decimals: string;
  hardLower: string;
  hardUpper: string;
  softLower: string;
  softUpper: string;
  lsl: string;
  target: string;
  usl: string;
  feature: string;
  components: string[];
  kinds: { id: string; name: string; letter: string }[];
  /** A kind that is typed and not added yet. */
  kindBegun: string;
  k: string;
  options: OptionFields;
  preset: Preset | 'own' | Named;
  rules: RuleRow[];
  reaction: string;
  escalatesAfter: string;
  tags: string[];
  labels: string[];
  hidden: boolean;
  phaseEvents: string[];
  /** Kept from the chart page; carried along here. */
  scales: Characteristic['scales'];
  able: string;
  barely: string;
  parts: PartRow[];
}

/** A part of a short run: texts as typed. */
export interface PartRow {
  name: string;
  nominal: string;
  sigma: string;
}

export type SetUpForm = UseFormReturn<Fields>;

/** The parameters of rules, in the order in which they are said. */
export const PARAMETERS = ['m', 'n', 'k'] as const;

export type Parameter = (typeof PARAMETERS)[number];

/** One rule of an own list; a parameter that it does not take is nothing. */
export interface RuleRow extends Record<Parameter, string | null> {
  kind: Rule['kind'];
  on: boolean;
  panels: 'all' | 'location' | 'dispersion';
}

const text = (x: number | null | undefined) => (x == null ? '' : String(x));
const row = (rule: ListedRule, on: boolean): RuleRow => ({
  kind: rule.kind,
  on,
  m: 'm' in rule ? text(rule.m) : null,
  n: 'n' in rule ? text(rule.n) : null,
  k: 'k' in rule ? text(rule.k) : null,
  panels: rule.panels ?? 'all',
});

/** The rules on offer, those that are on with their own parameters, and any further ones. */
export function rows(offers: readonly Rule[], list: readonly ListedRule[]): RuleRow[] {
  const left = [...list];
  const offered = offers.map((offer) => {
    const place = left.findIndex((rule) => rule.kind === offer.kind);
    const [mine] = place === -1 ? [] : left.splice(place, 1);
    return row(mine ?? offer, mine !== undefined);
  });
  return [...offered, ...left.map((rule) => row(rule, true))];
}

function ruleOf({ kind, panels, ...row }: RuleRow): ListedRule {
  const taken = PARAMETERS.flatMap((parameter) =>
    row[parameter] === null ? [] : [[parameter, number(row[parameter])]],
  );
  return { kind, ...Object.fromEntries(taken), ...(panels !== 'all' && { panels }) } as ListedRule;
}

const isNamed = (preset: string): preset is Named => namedBy(preset) !== null;

/** The rules that are chosen. */
export function ruleSetOf(
  { preset, rules }: Pick<Fields, 'preset' | 'rules'>,
  sets: readonly NamedRuleSet[],
): Characteristic['rule_set'] {
  if (preset === 'own') return { list: rules.filter((rule) => rule.on).map(ruleOf) };
  if (isNamed(preset)) return { list: [...(rulesOf(sets, preset) ?? [])] };
  return { preset };
}

/** A form to begin with, with the rules on offer. */
export function blankFields(offers: readonly Rule[], station = '', product = ''): Fields {
  return {
    station,
    product,
    name: '',
    kind: 'measured',
    pieces: '5',
    same: 'yes',
    taken: 'consecutive',
    every: 'minutes',
    everyCount: '60',
    chart: null,
    unit: '',
    decimals: '2',
    hardLower: '',
    hardUpper: '',
    softLower: '',
    softUpper: '',
    lsl: '',
    target: '',
    usl: '',
    feature: '',
    components: [],
    kinds: [],
    kindBegun: '',
    k: '3',
    options: optionFields(null),
    preset: 'western_electric',
    rules: rows(offers, []),
    reaction: '',
    escalatesAfter: '30',
    tags: [],
    labels: [],
    hidden: false,
    phaseEvents: [],
    scales: [],
    able: '1.33',
    barely: '1',
    parts: [],
  };
}

/** The form of a characteristic that is set up. */
export function fieldsOf(c: Characteristic, offers: readonly Rule[], station: string, product: string): Fields {
  return {
    station,
    product,
    name: c.name,
    kind: c.kind,
    pieces: text(c.subgroup_size),
    same: c.varying ? 'no' : 'yes',
    taken: c.taken,
    every: c.sampling.every,
    everyCount: 'count' in c.sampling ? text(c.sampling.count) : '60',
    chart: c.chart,
    unit: c.unit,
    decimals: text(c.decimals),
    hardLower: text(c.hard_bounds.lower),
    hardUpper: text(c.hard_bounds.upper),
    softLower: text(c.soft_bounds.lower),
    softUpper: text(c.soft_bounds.upper),
    lsl: text(c.specification.lsl),
    target: text(c.specification.target),
    usl: text(c.specification.usl),
    feature: c.feature ?? '',
    components: [...c.components],
    kinds: c.defect_kinds.map((kind) => ({ ...kind })),
    kindBegun: '',
    k: text(c.k),
    options: optionFields(c.options),
    preset: c.named_rules
      ? namedValue(c.named_rules.set, c.named_rules.version)
      : 'preset' in c.rule_set
        ? c.rule_set.preset
        : 'own',
    rules: rows(offers, 'list' in c.rule_set ? c.rule_set.list : []),
    reaction: c.reaction_plan.join('\n'),
    escalatesAfter: text(c.escalates_after),
    tags: [...c.asked_tags],
    labels: [...c.labels],
    hidden: c.hidden,
    phaseEvents: [...c.phase_events],
    scales: [...c.scales],
    able: text(c.thresholds.able),
    barely: text(c.thresholds.barely),
    parts: c.parts.map((part) => ({ name: part.name, nominal: text(part.nominal), sigma: text(part.sigma) })),
  };
}

/** The set-up as the server takes it, on the chart that is chosen or recommended. */
export function characteristicOf(
  f: Fields,
  recommended: Characteristic['chart'],
  sets: readonly NamedRuleSet[],
): Characteristic {
  const measured = f.kind === 'measured';
  const rare = f.kind === 'rare_event';
  const byTime = rare && (f.chart ?? recommended) === 't';
  const every = rare ? 'never' : f.every;
  const count = Number(f.everyCount);
  return {
    name: f.name.trim(),
    kind: f.kind,
    unit: byTime ? 'h' : f.unit.trim(),
    decimals: measured ? Number(f.decimals) : byTime ? 1 : 0,
    chart: f.chart ?? recommended,
    subgroup_size: rare ? 1 : Number(f.pieces),
    varying: !measured && !rare && f.same === 'no',
    taken: f.taken,
    sampling: every === 'minutes' || every === 'pieces' ? { every, count } : { every },
    options: optionsOf(f.options),
    k: number(f.k) ?? Number.NaN,
    rule_set: ruleSetOf(f, sets),
    named_rules: namedBy(f.preset),
    hard_bounds: { lower: number(f.hardLower), upper: number(f.hardUpper) },
    soft_bounds: { lower: number(f.softLower), upper: number(f.softUpper) },
    specification: { lsl: number(f.lsl), target: number(f.target), usl: number(f.usl) },
    reaction_plan: f.reaction
      .split('\n')
      .map((step) => step.trim())
      .filter((step) => step !== ''),
    escalates_after: Number(f.escalatesAfter),
    asked_tags: f.tags,
    labels: f.labels,
    hidden: f.hidden,
    phase_events: f.phaseEvents,
    scales: f.scales,
    thresholds: { able: number(f.able) ?? Number.NaN, barely: number(f.barely) ?? Number.NaN },
    feature: f.feature.trim() === '' ? null : f.feature.trim(),
    components: measured ? f.components : [],
    defect_kinds: measured || rare ? [] : f.kinds.map((kind) => ({ ...kind, name: kind.name.trim() })),
    parts: measured
      ? f.parts.map((part) => ({
          name: part.name.trim(),
          nominal: number(part.nominal) ?? Number.NaN,
          sigma: number(part.sigma),
        }))
      : [],
  };
}

/** Fields of the form by the names of the set-up. */
export const FIELDS_OF: Readonly<Record<string, readonly FieldPath<Fields>[]>> = {
  name: ['name'],
  kind: ['kind'],
  unit: ['unit'],
  decimals: ['decimals'],
  chart: ['chart'],
  subgroup_size: ['pieces'],
  varying: ['same'],
  taken: ['taken'],
  sampling: ['every', 'everyCount'],
  k: ['k'],
  'options.span': ['options.span'],
  'options.lambda': ['options.lambda'],
  'options.width': ['options.width'],
  'options.kappa': ['options.kappa'],
  'options.h': ['options.h'],
  'options.target': ['options.target'],
  rule_set: ['preset'],
  hard_bounds: ['hardLower', 'hardUpper'],
  soft_bounds: ['softLower', 'softUpper'],
  specification: ['lsl', 'target', 'usl'],
  thresholds: ['able', 'barely'],
  reaction_plan: ['reaction'],
  escalates_after: ['escalatesAfter'],
  asked_tags: ['tags'],
  labels: ['labels'],
  feature: ['feature'],
  components: ['components'],
  defect_kinds: ['kindBegun'],
  parts: ['parts.0.name'],
};

/** Fields in the order of the form. */
export const ORDER: readonly FieldPath<Fields>[] = [
  'name',
  'kind',
  'pieces',
  'taken',
  'same',
  'every',
  'everyCount',
  'chart',
  'k',
  'options.span',
  'options.lambda',
  'options.width',
  'options.kappa',
  'options.h',
  'options.target',
  'unit',
  'decimals',
  'hardLower',
  'hardUpper',
  'softLower',
  'softUpper',
  'lsl',
  'target',
  'usl',
  'able',
  'barely',
  'feature',
  'components',
  'kindBegun',
  'preset',
  'reaction',
  'escalatesAfter',
  'tags',
  'labels',
];

/** Words that characteristics have already, to be offered. */
export function wordsOf({ characteristics }: Plan): Record<'tags' | 'labels' | 'components', string[]> {
  const all = (of: (c: Characteristic) => readonly string[]) => [...new Set(characteristics.flatMap(of))].sort();
  return {
    tags: all((c) => c.asked_tags),
    labels: all((c) => c.labels),
    components: all((c) => c.components),
  };
}

/** A kind under the first letter of its name that is free. */
export function newKind(
  kinds: Fields['kinds'],
  name: string,
  lettersTaken: readonly string[],
): Fields['kinds'][number] {
  const taken = new Set([...lettersTaken, ...kinds.map((kind) => kind.letter)]);
  const candidates = `${name.toUpperCase()}ABCDEFGHIJKLMNOPQRSTUVWXYZ`.replace(/[^A-Z]/g, '');
  return { id: uuid(), name, letter: Array.from(candidates).find((letter) => !taken.has(letter)) ?? '' };
}
