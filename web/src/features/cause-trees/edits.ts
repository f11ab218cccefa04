/** What is typed into a tree here, over what the server knows of it; kept a moment later, while others type, too. */

import type { Idea, IdeaChange, IdeaVersion, IdeaView } from '../../api/client';
import { isFailure } from '../../api/failure';
import type { Ideas } from './tree';

/** After a pause as long as this what was typed is sent. */
const PAUSE_MS = 400;
/** What could not be sent is tried again. */
const AGAIN_MS = 3000;

/** Whether all is kept. */
export type Keeping = 'kept' | 'waits' | 'away' | { refused: unknown };

/** What the page shows. */
export interface Seen {
  ideas: Ideas;
  known: ReadonlyMap<string, IdeaView>;
  keeping: Keeping;
  /** What somebody else made of ideas that are changed here, too. */
  conflicts: ReadonlyMap<string, IdeaView>;
  /** Words that were typed into ideas which somebody else took out. */
  lost: readonly string[];
}

/** An idea as it was typed here. */
interface Typed {
  idea: Idea;
  /** The version that was seen when it was changed; nothing of a new one. */
  base: number | null;
  /** The version that it is kept as; nothing while it is to be sent. */
  kept: number | null;
}

/** How changes are sent, and how the tree is asked for again. */
export interface Way {
  send: (changes: IdeaChange[]) => Promise<IdeaVersion[]>;
  ask: () => Promise<readonly IdeaView[] | undefined>;
}

export class Edits {
  private readonly typed = new Map<string, Typed>();
  private readonly removed = new Set<string>();
  private readonly conflicts = new Map<string, IdeaView>();
  private known = new Map<string, IdeaView>();
  private lost: readonly string[] = [];
  private failure: unknown = null;
  private sending = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly listeners = new Set<() => void>();
  private shown: Seen;

  constructor(
    views: readonly IdeaView[],
    private readonly way: Way,
  ) {
    this.known = new Map(views.map((view) => [view.id, view]));
    this.shown = this.look();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly seen = (): Seen => this.shown;

  /** Ideas as they shall be. */
  readonly put = (changed: readonly Idea[]): void => {
    for (const idea of changed) {
      const before = this.typed.get(idea.id);
      // What was just kept is what the next change rests on.
      const base = before ? (before.kept ?? before.base) : (this.known.get(idea.id)?.version ?? null);
      this.typed.set(idea.id, { idea, base, kept: null });
    }
    this.failure = null;
    this.tell();
  };

  /** Takes an idea out. */
  readonly remove = (id: string): void => {
    this.typed.delete(id);
    this.conflicts.delete(id);
    this.removed.add(id);
    this.failure = null;
    this.tell();
  };

  /** Chooses between what two people made of an idea. */
  readonly settle = (id: string, whose: 'mine' | 'theirs'): void => {
    const [mine, theirs] = [this.typed.get(id), this.known.get(id)];
    if (whose === 'theirs') this.typed.delete(id);
    else if (mine && theirs) this.typed.set(id, { ...mine, base: theirs.version });
    this.conflicts.delete(id);
    this.tell();
  };

  /** The tree as the server tells it. */
  readonly learn = (views: readonly IdeaView[]): void => {
    const before = this.known;
    this.known = new Map(views.map((view) => [view.id, view]));
    for (const [id, { idea, base, kept }] of this.typed) {
      const theirs = this.known.get(id);
      if (!theirs) {
        // It was there, and somebody took it out; one that is on its way is not there yet.
        if (before.has(id)) this.lose(id);
      } else if (kept !== null) {
        if (theirs.version >= kept) this.typed.delete(id);
      } else if (base !== null && theirs.version > base) {
        if (same(idea, theirs)) this.typed.delete(id);
        else this.conflicts.set(id, theirs);
      }
    }
    for (const id of this.removed) if (!this.known.has(id)) this.removed.delete(id);
    this.tell();
  };

  private lose(id: string): void {
    const text = this.typed.get(id)?.idea.text ?? '';
    if (text !== '') this.lost = [...this.lost, text];
    this.typed.delete(id);
    this.conflicts.delete(id);
  }

  private unsent(): Typed[] {
    return [...this.typed.values()].filter(({ idea, kept }) => kept === null && !this.conflicts.has(idea.id));
  }

  private readonly send = async (): Promise<void> => {
    const unsent = this.unsent();
    const gone = [...this.removed].flatMap((id) => {
      const version = this.known.get(id)?.version;
      return version === undefined ? [] : [{ change: 'remove' as const, id, seen: version }];
    });
    this.sending = true;
    try {
      const versions = await this.way.send([
        ...unsent.map(({ idea, base }) => ({ change: 'put' as const, idea, seen: base })),
        ...gone,
      ]);
      const version = new Map(versions.map((one) => [one.id, one.version]));
      for (const { idea, base } of unsent) {
        const now = this.typed.get(idea.id);
        const kept = version.get(idea.id) ?? base ?? 1;
        if (!now) continue;
        // What was typed while it was sent is still to be sent, and rests on what was just kept.
        this.typed.set(idea.id, now.idea === idea ? { ...now, kept } : { ...now, base: kept });
      }
      this.failure = null;
      void this.asked();
    } catch (error) {
      if (isFailure(error, 'changed') || isFailure(error, 'missing')) {
        await this.asked();
        // Taken out before it was ever told of.
        if (isFailure(error, 'missing'))
          for (const { idea, base } of unsent) if (base !== null && !this.known.has(idea.id)) this.lose(idea.id);
      } else this.failure = error;
    } finally {
      this.sending = false;
      this.tell();
    }
  };

  private async asked(): Promise<void> {
    const views = await this.way.ask();
    if (views) this.learn(views);
  }

  /** Shows what there is now, and sends what is to be sent after a pause. */
  private tell(): void {
    this.shown = this.look();
    this.listeners.forEach((listener) => listener());
    clearTimeout(this.timer);
    const away = isFailure(this.failure, 'away');
    if (this.sending || !this.waits() || (this.failure !== null && !away)) return;
    this.timer = setTimeout(() => void this.send(), away ? AGAIN_MS : PAUSE_MS);
  }

  private waits(): boolean {
    return this.unsent().length > 0 || [...this.removed].some((id) => this.known.has(id));
  }

  private look(): Seen {
    const ideas = new Map<string, Idea>([...this.known].map(([id, view]) => [id, ideaOf(view)]));
    for (const [id, { idea }] of this.typed) ideas.set(id, idea);
    for (const id of this.removed) ideas.delete(id);
    const keeping: Keeping = isFailure(this.failure, 'away')
      ? 'away'
      : this.failure !== null
        ? { refused: this.failure }
        : this.waits() || this.sending
          ? 'waits'
          : 'kept';
    return { ideas, known: this.known, keeping, conflicts: new Map(this.conflicts), lost: this.lost };
  }
}

/** The idea alone, without what is known of it. */
function ideaOf({ id, parent, place, text, group, state, owner, due, evidence, actions }: IdeaView): Idea {
  return {
    id,
    parent: parent ?? null,
    place,
    text,
    group: group ?? null,
    state: state ?? 'idea',
    owner: owner ?? null,
    due: due ?? null,
    evidence: evidence ?? [],
    actions: actions ?? [],
  };
}

const same = (mine: Idea, theirs: IdeaView) =>
  JSON.stringify(ideaOf({ ...theirs, ...mine })) === JSON.stringify(ideaOf(theirs));
