import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { AnswerView, EpisodeView } from '../../api/client';
import {
  type AnswerDraft,
  answerDeed,
  BLANK,
  draftOfAnswer,
  givenBefore,
  keepAnswer,
  loadAnswer,
  NOTHING,
  OTHER,
  sameAs,
} from './answerDraft';

const CAUSE = '01234567-89ab-4cde-8f01-23456789abcd';
const episode = { id: 'e1', characteristic: 'c1', version: 3, answers: [], follows: null } as unknown as EpisodeView;

const full: AnswerDraft = {
  cause: OTHER,
  causeText: 'Dosing valve stuck',
  propose: true,
  action: 'Valve cleaned.',
  corrected: true,
  comment: 'Ask the maintenance.',
  steps: ['Measure one more.'],
  held: 'no',
  files: [{ id: 'f1', name: 'valve.png', bytes: 70 }],
};

describe('an answer as it is sent', () => {
  test.each<[string, AnswerDraft]>([
    ['in words, with all that goes with it', full],
    ['from the catalogue', { ...BLANK, cause: CAUSE, action: 'Changed the tool.' }],
    ['nothing found', { ...BLANK, cause: NOTHING, action: 'Looked at the mould.' }],
  ])('%s reads the same when it is typed again', (_, draft) => {
    const deed = answerDeed(draft, episode, 'entry-1');
    expect(deed).toMatchObject({ what: 'answer', target: 'c1', episode: 'e1', body: { entry: 'entry-1', version: 3 } });
    expect(draftOfAnswer(deed)).toEqual(draft);
  });

  test('names one cause alone, whatever was typed before another was chosen', () => {
    const { body } = answerDeed({ ...full, cause: NOTHING, action: '' }, episode, 'entry-1');
    expect(body).toMatchObject({
      nothing_found: true,
      cause: null,
      cause_text: null,
      propose: false,
      action: 'Looked, nothing found.',
    });
    expect(answerDeed({ ...full, cause: CAUSE }, episode, 'entry-1').body).toMatchObject({
      cause: CAUSE,
      cause_text: null,
      propose: false,
    });
  });
});

describe('an answer that was given before', () => {
  const given = (more: Partial<AnswerView>) =>
    ({ cause_id: null, cause: 'worn die', action: 'Changed it.', ...more }) as AnswerView;
  const reviewed = (decision: string) => given({ review: { decision } as NonNullable<AnswerView['review']> });

  test('is offered while it stands', () => {
    const [open, back] = [given({}), reviewed('sent_back')];
    expect(givenBefore({ ...episode, answers: [open, back] })).toBe(open);
    expect(givenBefore({ ...episode, answers: [reviewed('overruled')] })).toBeNull();
    const before = given({ cause: 'new lot' });
    expect(givenBefore({ ...episode, follows: { id: 'e0', from_number: 1, to_number: 2, answer: before } })).toBe(
      before,
    );
  });

  test('is given again as it was, without its restart, its steps and its files', () => {
    expect(sameAs(given({}))).toEqual({ ...BLANK, cause: OTHER, causeText: 'worn die', action: 'Changed it.' });
    expect(sameAs(given({ cause_id: CAUSE }))).toEqual({ ...BLANK, cause: CAUSE, action: 'Changed it.' });
    expect(sameAs(given({ cause: null }))).toMatchObject({ cause: NOTHING });
  });
});

describe('a draft on the device', () => {
  const kept = new Map<string, string>();
  beforeEach(() =>
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
      removeItem: (key: string) => kept.delete(key),
    }),
  );
  afterEach(() => {
    vi.unstubAllGlobals();
    kept.clear();
  });

  test('is somebody’s own, and gone when it is blank', () => {
    keepAnswer('tilda', 'e1', full);
    expect(loadAnswer('tilda', 'e1')).toEqual(full);
    expect(loadAnswer('milo', 'e1')).toBeNull();
    keepAnswer('tilda', 'e1', BLANK);
    expect(loadAnswer('tilda', 'e1')).toBeNull();
  });

  test('of an older program, or one that cannot be read, does no harm', () => {
    const older = { cause: '', causeText: '', action: 'Half', comment: '', steps: [], held: '' };
    kept.set('nuvek.answer.tilda.e1', JSON.stringify(older));
    expect(loadAnswer('tilda', 'e1')).toEqual({ ...BLANK, action: 'Half' });
    kept.set('nuvek.answer.tilda.e1', '{half');
    expect(loadAnswer('tilda', 'e1')).toBeNull();
  });
});
