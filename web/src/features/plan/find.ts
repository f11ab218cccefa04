import type { CharacteristicView } from '../../api/client';

/** A pattern as people write it: `*` stands for anything, `?` for one letter; without them, part of a word is enough. */
function expression(pattern: string): RegExp {
  const wild = /[*?]/.test(pattern);
  const escaped = pattern
    .replace(/[.+^${}()|[\]\\]/g, '\\$&')
    .replace(/\*/g, '.*')
    .replace(/\?/g, '.');
  return new RegExp(wild ? `^${escaped}$` : escaped, 'i');
}

/** Whether a characteristic is meant: every word of the pattern fits its name, product, station, feature or a label. */
export function isMeant(c: CharacteristicView, pattern: string): boolean {
  const texts = [c.name, c.product, c.station, c.feature ?? '', ...c.labels];
  const whole = pattern.trim();
  if (texts.some((text) => expression(whole).test(text))) return true;
  return whole.split(/\s+/).every((word) => texts.some((text) => expression(word).test(text)));
}
