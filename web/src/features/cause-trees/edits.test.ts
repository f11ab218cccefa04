import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { IdeaChange, IdeaView } from '../../api/client';
import { AWAY, Failure } from '../../api/failure';
import { Edits, type Way } from './edits';
import { blank } from './tree';

const view = (id: string, text: string, version = 1): IdeaView => ({
  ...blank(null, 0),
  id,
  text,
  version,
  changed_by: 'Milo Mixwell',
  changed_at: '2026-11-28T10:00:00Z',
  cause: null,
});

/** A server that keeps what it is sent, and answers when it is told to. */
function server(views: IdeaView[]) {
  const held = new Map(views.map((one) => [one.id, one]));
  const sent: IdeaChange[][] = [];
  let answer: (() => void) | null = null;
  const way: Way = {
    send: (changes) => {
      sent.push(changes);
      return new Promise((resolve) => {
        answer = () => {
          for (const change of changes) {
            if (change.change === 'remove') held.delete(change.id);
            else
              held.set(change.idea.id, {
                ...view(change.idea.id, '', (held.get(change.idea.id)?.version ?? 0) + 1),
                ...change.idea,
              });
          }
          resolve(
            changes.flatMap((c) =>
              c.change === 'put' ? [{ id: c.idea.id, version: held.get(c.idea.id)?.version ?? 0 }] : [],
            ),
          );
        };
      });
    },
    ask: () => Promise.resolve(undefined),
  };
  return { way, sent, held, answers: async () => (answer?.(), await vi.advanceTimersByTimeAsync(0)) };
}

const texts = (edits: Edits) => [...edits.seen().ideas.values()].map(({ text }) => text);
const idea = (edits: Edits, id: string) => {
  const found = edits.seen().ideas.get(id);
  if (!found) throw new Error(`no idea ${id}`);
  return found;
};

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe('what is typed into a tree', () => {
  it('is shown at once, sent after a pause, and stays while the tree is asked for again', async () => {
    const { way, sent, answers, held } = server([view('a', 'Worn')]);
    const edits = new Edits([view('a', 'Worn')], way);
    const added = { ...blank('a', 1), text: 'Loose' };
    edits.put([added]);
    expect(texts(edits)).toEqual(['Worn', 'Loose']);
    expect(edits.seen().keeping).toBe('waits');
    await vi.advanceTimersByTimeAsync(400);
    expect(sent).toHaveLength(1);
    await answers();
    // Kept, though the server has not told of it yet.
    expect(edits.seen().keeping).toBe('kept');
    expect(texts(edits)).toEqual(['Worn', 'Loose']);
    edits.learn([view('a', 'Worn')]);
    expect(texts(edits)).toEqual(['Worn', 'Loose']);
    edits.learn([...held.values()]);
    expect(texts(edits)).toEqual(['Worn', 'Loose']);
    expect(edits.seen().lost).toEqual([]);
  });

  it('goes on while what came before is sent, and rests on that', async () => {
    const { way, sent, answers } = server([view('a', 'Worn')]);
    const edits = new Edits([view('a', 'Worn')], way);
    edits.put([{ ...idea(edits, 'a'), text: 'Worn o' }]);
    await vi.advanceTimersByTimeAsync(400);
    edits.put([{ ...idea(edits, 'a'), text: 'Worn out' }]);
    await answers();
    expect(edits.seen().keeping).toBe('waits');
    await vi.advanceTimersByTimeAsync(400);
    expect(sent.map(([change]) => change?.change === 'put' && [change.idea.text, change.seen])).toEqual([
      ['Worn o', 1],
      ['Worn out', 2],
    ]);
    await answers();
    expect(edits.seen().keeping).toBe('kept');
    expect(edits.seen().conflicts.size).toBe(0);
  });

  it('is held against what somebody else made of the same idea', async () => {
    const { way, sent, answers } = server([view('a', 'Worn'), view('b', 'Loose')]);
    const edits = new Edits([view('a', 'Worn'), view('b', 'Loose')], way);
    edits.put([{ ...idea(edits, 'a'), text: 'Mine' }]);
    edits.learn([view('a', 'Theirs', 2), view('b', 'Looser', 2)]);
    expect(texts(edits)).toEqual(['Mine', 'Looser']);
    expect(edits.seen().conflicts.get('a')?.text).toBe('Theirs');
    await vi.advanceTimersByTimeAsync(1000);
    expect(sent).toEqual([]);
    edits.settle('a', 'mine');
    await vi.advanceTimersByTimeAsync(400);
    expect(sent[0]?.[0]).toMatchObject({ change: 'put', seen: 2 });
    await answers();
    expect(edits.seen().keeping).toBe('kept');
  });

  it('takes what somebody else made of it, when chosen', () => {
    const edits = new Edits([view('a', 'Worn')], server([]).way);
    edits.put([{ ...idea(edits, 'a'), text: 'Mine' }]);
    edits.learn([view('a', 'Theirs', 2)]);
    edits.settle('a', 'theirs');
    expect(texts(edits)).toEqual(['Theirs']);
    expect(edits.seen().keeping).toBe('kept');
  });

  it('is said to be lost where somebody took the idea out', () => {
    const edits = new Edits([view('a', 'Worn')], server([]).way);
    edits.put([{ ...idea(edits, 'a'), text: 'Worn out' }]);
    edits.learn([]);
    expect(edits.seen().lost).toEqual(['Worn out']);
    expect(texts(edits)).toEqual([]);
  });

  it('waits without a network, and is tried again', async () => {
    const { way, sent, answers } = server([view('a', 'Worn')]);
    let away = true;
    const edits = new Edits([view('a', 'Worn')], {
      ...way,
      send: (changes) => (away ? Promise.reject(new Failure(AWAY)) : way.send(changes)),
    });
    edits.put([{ ...idea(edits, 'a'), text: 'Worn out' }]);
    await vi.advanceTimersByTimeAsync(400);
    expect(edits.seen().keeping).toBe('away');
    away = false;
    await vi.advanceTimersByTimeAsync(3000);
    expect(sent).toHaveLength(1);
    await answers();
    expect(edits.seen().keeping).toBe('kept');
  });

  it('takes ideas out until the server tells of them no more', async () => {
    const { way, sent, answers } = server([view('a', 'Worn')]);
    const edits = new Edits([view('a', 'Worn')], way);
    edits.remove('a');
    expect(texts(edits)).toEqual([]);
    await vi.advanceTimersByTimeAsync(400);
    expect(sent[0]).toEqual([{ change: 'remove', id: 'a', seen: 1 }]);
    await answers();
    edits.learn([]);
    expect(edits.seen().keeping).toBe('kept');
  });
});
