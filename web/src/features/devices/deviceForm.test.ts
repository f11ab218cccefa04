import { describe, expect, it } from 'vitest';
import type { Link, Reason } from '../../api/client';
import { doesWhat, heardInWords, linkInWords, reasonInWords } from '../../words/devices';
import { BLANK as EMPTY, formOf, isComplete, linkOf } from './deviceForm';

const BLANK = { ...EMPTY, name: 'A-2', stations: ['lab'] };
const again = (link: Link) => linkOf(formOf({ name: 'A-2', stations: [], link }));

describe('the form of a device', () => {
  it('sends only the levels that are mapped', () => {
    const form = {
      ...BLANK,
      kind: 'analyser' as const,
      opens: 'device' as const,
      at: ' 127.0.0.1:4002 ',
      results: { a: { specimen: ' K-1', test: 'AG' }, b: { specimen: '', test: 'AG' } },
    };
    expect(isComplete(form)).toBe(true);
    expect(again(linkOf(form))).toEqual(linkOf(form));
    expect(linkOf(form)).toEqual({
      kind: 'analyser',
      address: { opens: 'device', at: '127.0.0.1:4002' },
      results: [{ characteristic: 'a', specimen: 'K-1', test: 'AG' }],
    });
  });

  it('tells a watched folder what it needs, and keeps what it does not', () => {
    const form = {
      ...BLANK,
      kind: 'folder' as const,
      folder: ' kiln ',
      recipe: 'r',
      characteristic: 'c',
      withoutTags: 'lot, , shift',
    };
    expect(isComplete(form)).toBe(true);
    expect(isComplete({ ...form, recipe: '' })).toBe(false);
    expect(linkOf(form)).toEqual({
      kind: 'folder',
      folder: 'kiln',
      recipe: 'r',
      characteristic: 'c',
      list: null,
      without_tags: ['lot', 'shift'],
      only_right: false,
      follows: false,
    });
    expect(again(linkOf({ ...form, list: 'all', onlyRight: true, follows: true }))).toMatchObject({
      list: 'all',
      only_right: true,
      follows: true,
    });
    const device = { link: linkOf(form), revoked_at: null, heard_at: null, silent_since: null };
    expect(linkInWords(device)).toBe('Tables in a watched folder, kiln');
    expect(heardInWords(device)).toContain('no table yet');
  });

  it('asks of a program that reads for nothing but a name and its stations', () => {
    const form = { ...BLANK, kind: 'program' as const };
    expect(isComplete(form)).toBe(true);
    expect(isComplete({ ...form, stations: [] })).toBe(false);
    expect(again(linkOf(form))).toEqual({ kind: 'program' });
    const device = { link: linkOf(form), revoked_at: null, heard_at: null, silent_since: null };
    expect([linkInWords(device), heardInWords(device)]).toEqual([
      'Program that reads with a token',
      '◇ never read yet',
    ]);
    expect(doesWhat('program').counts).toBe(false);
  });

  it('sends blanks of a payload as nothing, and one way of making readings', () => {
    const form = {
      ...BLANK,
      kind: 'sensor' as const,
      broker: 'hall:1883',
      topic: 'kiln',
      characteristic: 'c',
      unit: ' /u ',
      make: 'bucket' as const,
      count: '60',
    };
    expect(isComplete({ ...form, count: '0' })).toBe(false);
    const link = linkOf(form);
    expect(link).toMatchObject({ payload: { value: '/value', unit: '/u', at: null, id: null }, make: { bucket: 60 } });
    expect(again(link)).toEqual(link);
    expect(linkInWords({ link })).toBe('Sensor by MQTT, kiln at hall:1883, the mean of 60 s');
  });
});

describe('the form of a display', () => {
  it('sends numbers, and comes back as it was', () => {
    const form = { ...BLANK, kind: 'display' as const, charts: '9', seconds: ' 20 ', dark: false };
    expect(isComplete(form)).toBe(true);
    expect(isComplete({ ...form, seconds: 'soon' })).toBe(false);
    const link = linkOf(form);
    expect(link).toEqual({ kind: 'display', charts: 9, seconds: 20, dark: false });
    expect(again(link)).toEqual(link);
    expect(linkInWords({ link })).toBe('Display on the wall, 9 charts at a time, 20 s each');
  });
});

describe('words about devices', () => {
  it('say since when one is silent, and a display off', () => {
    const link: Link = { kind: 'ingest' };
    const display: Link = { kind: 'display', charts: 4, seconds: 15, dark: true };
    const heard_at = new Date(Date.now() - 40 * 60_000).toISOString();
    expect(heardInWords({ link, revoked_at: null, heard_at, silent_since: heard_at })).toMatch(/^◆ silent since /);
    expect(heardInWords({ link, revoked_at: null, heard_at, silent_since: null })).toBe('✓ heard 40 min ago');
    expect(heardInWords({ link: display, revoked_at: null, heard_at, silent_since: heard_at })).toMatch(
      /^◆ off since /,
    );
    expect(heardInWords({ link, revoked_at: null, heard_at: null, silent_since: null })).toBe('◇ never heard yet');
  });

  it('have a reason for what is not known yet', () => {
    expect([reasonInWords('checksum'), reasonInWords('on_fire' as Reason)]).toEqual([
      'frame with a wrong checksum',
      'refused',
    ]);
  });
});
