import type { LabRule } from '../api/client';

/** The laboratory's rules in words, with the name the trade gives them. */
export const LAB_RULES: Record<LabRule, string> = {
  '1-2s': 'one result beyond 2 sd',
  '1-3s': 'one result beyond 3 sd',
  '2-2s': 'two in a row beyond 2 sd on one side',
  'R-4s': 'one result beyond +2 sd and another beyond −2 sd',
  '4-1s': 'four in a row beyond 1 sd on one side',
  '10x': 'ten in a row on one side of the mean',
  '2of3-2s': 'two of three beyond 2 sd on one side',
  '3-1s': 'three in a row beyond 1 sd on one side',
  '6x': 'six in a row on one side of the mean',
  '8x': 'eight in a row on one side of the mean',
  '12x': 'twelve in a row on one side of the mean',
  '7T': 'seven in a row rising or falling',
};

export function labRule(rule: LabRule): string {
  return `${rule}: ${LAB_RULES[rule]}`;
}

/** What breaks such a rule: what is off by chance, or what is off for good. */
export function labMeaning(rule: LabRule): string {
  switch (rule) {
    case '1-2s':
    case '1-3s':
    case 'R-4s':
      return 'Something acted on this run alone: a bubble, a mixed-up control, a slip of the pipette.';
    case '7T':
      return 'Something wanders: reagent, lamp, temperature.';
    default:
      return 'Results are off on one side: calibration, reagent lot, control material.';
  }
}

export function list(words: readonly string[]): string {
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words[words.length - 1] ?? ''}`;
}
