import { LOCALE } from './locale';

const WORDS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
  'thirteen',
  'fourteen',
  'fifteen',
  'sixteen',
  'seventeen',
  'eighteen',
  'nineteen',
  'twenty',
];

/** A small whole number as a word. */
export function inWords(n: number): string {
  return WORDS[n] ?? String(n);
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A number as typed, with decimal point or comma; not a number while there is none. */
export function numberOf(text: string): number {
  const typed = text.trim().replace(',', '.').replace('−', '-');
  return typed === '' ? Number.NaN : Number(typed);
}

/** A figure with the decimals of its characteristic; a long dash where there is none. */
export function figure(value: number | null | undefined, decimals: number): string {
  return value == null ? '–' : value.toFixed(decimals).replace('-', '−');
}

/** A figure of any size with three digits that say something. */
export const significant = (value: number): string =>
  Number(value.toPrecision(3))
    .toLocaleString(LOCALE, { maximumSignificantDigits: 3, useGrouping: false })
    .replace('-', '−');

/** A large whole number in groups of three digits. */
export const grouped = (n: number): string => n.toLocaleString(LOCALE);

const form = new Intl.PluralRules(LOCALE);

/** The form of a sentence that goes with a number; none may have one of its own. */
export function plural(n: number, forms: { zero?: string; one: string; other: string }): string {
  if (n === 0 && forms.zero !== undefined) return forms.zero;
  return form.select(n) === 'one' ? forms.one : forms.other;
}
