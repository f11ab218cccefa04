import { describe, expect, it } from 'vitest';
import type { Characteristic, CharacteristicView, Rule } from '../../api/client';
import { isMeant } from './find';
import { blankFields, characteristicOf, fieldsOf, newKind, rows, ruleSetOf } from './form';
import { namedOptions, namedValue } from './namedRules';
import { number } from './typed';
import { notNumbers } from './readable';

const wall: Characteristic = {
  name: 'Wall thickness',
  kind: 'measured',
  unit: 'mm',
  decimals: 2,
  chart: 'xbar_s',
  subgroup_size: 5,
  varying: false,
  taken: 'streams',
  sampling: { every: 'pieces', count: 500 },
  k: 3,
  options: {
    span: 2,
    sigma_method: 'mean_mr',
    lambda: 0.2,
    width: 3,
    kappa: 0.5,
    h: 5,
    fast_start: false,
    target: null,
    conforming: false,
    mean_size: false,
  },
  rule_set: {
    list: [
      { kind: 'm_of_n', m: 4, n: 5, k: 1.5 },
      { kind: 'trend', n: 7 },
      { kind: 'trend', n: 9 },
    ],
  },
  hard_bounds: { lower: 0, upper: 20 },
  soft_bounds: { lower: null, upper: 7.5 },
  specification: { lsl: 6, target: null, usl: 6.8 },
  reaction_plan: ['Stop', 'Call'],
  escalates_after: 45,
  asked_tags: ['lot'],
  labels: ['spring', 'C-20'],
  hidden: true,
  feature: 'Cap bore',
  components: ['X', 'Y'],
  defect_kinds: [],
  parts: [],
  named_rules: null,
  phase_events: [],
  thresholds: { able: 1.67, barely: 1.33 },
  scales: [{ panel: 'range', low: 0, high: 0.5 }],
};
const OFFERS: Rule[] = [
  { kind: 'trend', n: 6 },
  { kind: 'm_of_n', m: 2, n: 3, k: 2 },
];
const setup: CharacteristicView = {
  ...wall,
  id: 'w',
  station: 'Casting line 1',
  station_id: 's',
  product: 'Cartridge C-20',
  product_id: 'p',
  created_at: '',
  version: 1,
};

describe('the form of a characteristic', () => {
  it('gives back what it was filled with', () => {
    expect(characteristicOf(fieldsOf(wall, OFFERS, 's', 'p'), 'xbar_r', [])).toEqual({
      ...wall,
      // Rules stand in the order in which they are offered.
      rule_set: {
        list: [
          { kind: 'trend', n: 7 },
          { kind: 'm_of_n', m: 4, n: 5, k: 1.5 },
          { kind: 'trend', n: 9 },
        ],
      },
    });
  });

  it('takes the recommended chart until another is chosen', () => {
    expect(characteristicOf(blankFields(OFFERS), 'i_mr', []).chart).toBe('i_mr');
    expect(characteristicOf({ ...blankFields(OFFERS), chart: 'median_r' }, 'i_mr', []).chart).toBe('median_r');
  });

  it('takes a decimal comma and says which fields hold no number', () => {
    expect([number('6,5'), number(' −1.5 '), number('')]).toEqual([6.5, -1.5, null]);
    expect(notNumbers({ ...blankFields(OFFERS), pieces: 'five', lsl: 'six', hardLower: '0,5', able: '' })).toEqual([
      'pieces',
      'lsl',
      'able',
    ]);
    expect(notNumbers(blankFields(OFFERS))).toEqual([]);
    const own = blankFields(OFFERS);
    const rules = own.rules.map((rule) => ({ ...rule, on: true, k: rule.k === null ? null : 'two', n: '6,5' }));
    expect(notNumbers({ ...own, preset: 'own', rules })).toEqual(['rules.0.n', 'rules.1.n', 'rules.1.k']);
    expect(notNumbers({ ...own, rules })).toEqual([]);
  });

  it('gives a new kind a letter of its own', () => {
    const kinds = [newKind([], 'Chip', ['O', 'U'])];
    expect(kinds[0]?.letter).toBe('C');
    expect(newKind(kinds, 'Crack', ['O', 'U']).letter).toBe('R');
    expect(newKind(kinds, 'ou', ['O', 'U']).letter).toBe('A');
  });
});

it.each<[string, boolean]>([
  ['wall', true],
  ['*wall*', true],
  ['wall*', true],
  ['*wall', false],
  ['spring', true],
  ['casting wall', true],
  ['casting kiln', false],
  ['W?ll thickness', true],
  ['c-2?', true],
  ['(', false],
  ['', true],
])('the pattern “%s” finds it: %s', (pattern, found) => {
  expect(isMeant(setup, pattern)).toBe(found);
});

describe('a named set of rules', () => {
  const beyond = { kind: 'beyond', k: 3 } as const;
  const spread = { kind: 'beyond', k: 3, panels: 'dispersion' } as const;
  const sets = [
    { id: 'line', name: 'Line 9', version: 2, rules: [spread], at: '', person: 'Egon', earlier: [[beyond]] },
  ];

  it('is chosen in the version that is used', () => {
    const fields = { ...blankFields(OFFERS), preset: namedValue('line', 1) };
    expect(characteristicOf(fields, 'i_mr', sets)).toMatchObject({
      rule_set: { list: [beyond] },
      named_rules: { set: 'line', version: 1 },
    });
    // The older one stays in sight beside the newest.
    expect(namedOptions(sets, fields.preset).map(([value]) => value)).toEqual(['named:line:2', 'named:line:1']);
  });

  it('keeps the panels that a rule looks at on the way through the form', () => {
    const rules = rows(OFFERS, [spread]);
    expect(ruleSetOf({ preset: 'own', rules }, [])).toEqual({ list: [spread] });
  });
});
