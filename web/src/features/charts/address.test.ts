import { describe, expect, it } from 'vitest';
import {
  ALL,
  closeIn,
  keptOf,
  OWN_SCALES,
  scalesForLink,
  scalesIn,
  scalesInWords,
  scalesSeen,
  shownIn,
  stretchIn,
} from './address';

const of = (text: string) => new URLSearchParams(text);

describe('the address of a chart', () => {
  it('says which points there are', () => {
    expect(stretchIn(of(''))).toEqual({ last: 60 });
    expect(stretchIn(of('last=200'))).toEqual({ last: 200 });
    expect(stretchIn(of('last=all'))).toEqual({ last: ALL });
    expect(stretchIn(of('last=7'))).toEqual({ last: 60 });
    expect(stretchIn(of('since=2026-03-01T08:00:00Z'))).toEqual({ since: '2026-03-01T08:00:00Z', last: ALL });
    expect(Object.keys(stretchIn(of('after=2026-03-01&until=2026-03-08')))).toEqual(['since', 'before', 'last']);
  });

  it('says what is looked at closely, and nothing where that is no stretch of time', () => {
    expect(closeIn(of('from=1970-01-01T00:00:01Z&to=1970-01-01T00:00:03Z'))).toEqual({ from: 1000, to: 3000 });
    for (const wrong of ['', 'from=x&to=y', 'from=1970-01-01T00:00:03Z&to=1970-01-01T00:00:01Z'])
      expect(closeIn(of(wrong))).toBeNull();
  });

  it('says what is left out', () => {
    expect(shownIn('zones,lanes,nonsense')).toEqual({ zones: false, labels: true, lanes: false });
    expect(shownIn(null)).toEqual({ zones: true, labels: true, lanes: true });
  });

  it('keeps scales, and drops those that are none', () => {
    const scales = scalesIn('mean:3.9:4.2,range:0:0.4,sd:5:1,ewma:,:1:2');
    expect(scales).toEqual({ mean: [3.9, 4.2], range: [0, 0.4] });
    expect(scalesIn(scalesInWords(scales))).toEqual(scales);
    expect(scalesInWords({})).toBeNull();
  });

  it('draws at the scale that is kept unless the address says another, or none', () => {
    const kept = [{ panel: 'range', low: 0, high: 0.4 } as const];
    expect(scalesSeen(null, kept)).toEqual({ range: [0, 0.4] });
    expect(scalesSeen('mean:1:2', kept)).toEqual({ mean: [1, 2] });
    expect(scalesSeen(OWN_SCALES, kept)).toEqual({});
    expect(keptOf(scalesSeen(null, kept))).toEqual(kept);
  });

  it('makes a link that shows the same whatever is kept later', () => {
    const kept = [{ panel: 'range', low: 0, high: 0.4 } as const];
    for (const said of [null, 'mean:1:2', OWN_SCALES])
      expect(scalesSeen(scalesForLink(said, kept), [])).toEqual(scalesSeen(said, kept));
    expect(scalesSeen(scalesForLink(null, []), kept)).toEqual({});
  });
});
