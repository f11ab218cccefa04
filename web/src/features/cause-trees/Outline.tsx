import { Box, Button, Paper, Typography } from '@mui/material';
import { type KeyboardEvent, useCallback, useEffect, useMemo, useRef } from 'react';
import type { IdeaState } from '../../api/client';
import { KeyHints } from '../../ui/KeyHints';
import { TREES } from '../../words/trees';
import { OutlineRow } from './OutlineRow';
import { type Changed, childrenOf, indented, moved, nextAfter, nextBranch, outdented, rowsOf } from './tree';
import type { TreeEdits } from './useTree';

const STATES: readonly IdeaState[] = ['idea', 'to_check', 'ruled_out', 'found_true'];

/** Ideas as a list that is typed: one line each, those below set in. */
export function Outline({
  edits,
  chosen,
  onChoose,
}: {
  edits: TreeEdits;
  chosen: string | null;
  onChoose: (id: string | null) => void;
}) {
  const list = useRef<HTMLOListElement>(null);
  const more = useRef<HTMLButtonElement>(null);
  /** Where the focus goes once the row is there. */
  const next = useRef<string | null>(null);
  const rows = useMemo(() => rowsOf(edits.ideas), [edits.ideas]);
  const latest = useRef({ edits, rows });
  useEffect(() => {
    latest.current = { edits, rows };
    if (next.current === null) return;
    const field = fieldOf(list.current, next.current);
    if (!field) return;
    next.current = null;
    field.focus();
  });

  const onText = useCallback((id: string, text: string) => {
    const idea = latest.current.edits.ideas.get(id);
    if (idea && idea.text !== text) latest.current.edits.put([{ ...idea, text }]);
  }, []);

  const onKey = useCallback((id: string, event: KeyboardEvent<HTMLInputElement>) => {
    const { edits: now, rows: shown } = latest.current;
    const at = shown.findIndex(({ idea }) => idea.id === id);
    const text = event.currentTarget.value;
    const idea = now.ideas.get(id);
    if (!idea) return;
    // What was typed up to here comes along, whatever the key does.
    const ideas = idea.text === text ? now.ideas : new Map(now.ideas).set(id, { ...idea, text });
    const change = (changed: Changed) => {
      if (changed.length > 0) now.put(changed);
      next.current = id;
    };
    const go = (to: number) => {
      const row = shown[to];
      if (row) fieldOf(list.current, row.idea.id)?.focus();
    };
    const digit = event.altKey ? STATES[Number(event.key) - 1] : undefined;
    if (event.key === 'Enter' && !event.nativeEvent.isComposing) {
      const added = nextAfter(ideas, id);
      if (added) {
        now.put([...(idea.text === text ? [] : [{ ...idea, text }]), added]);
        next.current = added.id;
      }
    } else if (event.key === 'Tab') {
      const changed = event.shiftKey ? outdented(ideas, id) : indented(ideas, id);
      // Where nothing can be set in, the key leaves the list as everywhere.
      if (changed.length === 0) return;
      change(changed);
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      const by = event.key === 'ArrowUp' ? -1 : 1;
      if (event.altKey) change(moved(ideas, id, by));
      else go(at + by);
    } else if (digit !== undefined) change([{ ...idea, text, state: digit }]);
    else if (event.key === 'Backspace' && text === '' && (childrenOf(ideas).get(id) ?? []).length === 0) {
      now.remove(id);
      go(at - 1);
    } else if (event.key === 'Escape') more.current?.focus();
    else return;
    event.preventDefault();
  }, []);

  const add = () => {
    const branch = nextBranch(edits.ideas);
    edits.put([branch]);
    next.current = branch.id;
  };
  const texts = new Map(rows.map(({ idea }) => [idea.id, idea.text]));
  return (
    <Paper component="section" aria-label={TREES.ideas} sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        {TREES.ideas}
      </Typography>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
        <KeyHints hints={TREES.hints} />
      </Typography>
      <Box component="ol" ref={list} sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {rows.map(({ idea, level }) => (
          <OutlineRow
            key={idea.id}
            idea={idea}
            level={level}
            under={texts.get(idea.parent ?? '') ?? ''}
            chosen={idea.id === chosen}
            theirs={edits.conflicts.get(idea.id) ?? null}
            onText={onText}
            onKey={onKey}
            onChoose={onChoose}
            onSettle={edits.settle}
          />
        ))}
      </Box>
      <Button ref={more} color="inherit" onClick={add} sx={{ mt: 1 }}>
        + {TREES.branch}
      </Button>
    </Paper>
  );
}

const fieldOf = (list: HTMLElement | null, id: string) =>
  list?.querySelector<HTMLInputElement>(`input[data-idea="${id}"]`) ?? null;
