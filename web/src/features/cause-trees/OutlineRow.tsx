import { Box, Button, styled } from '@mui/material';
import { type KeyboardEvent, memo, useEffect, useRef, useState } from 'react';
import type { Idea, IdeaView } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { IDEA_MARKS, IDEA_STATES, TREES } from '../../words/trees';

/** After a pause as long as this the rest of the page learns what is typed; the letters are there at once. */
const TOLD_MS = 200;

const Field = styled('input')(({ theme }) => ({
  font: 'inherit',
  color: 'inherit',
  background: 'transparent',
  border: 0,
  borderBottom: `1px solid transparent`,
  flex: 1,
  minWidth: 0,
  minHeight: 36,
  '&:focus': { outline: 'none', borderBottomColor: theme.palette.primary.main },
}));

interface Props {
  idea: Idea;
  level: number;
  /** What it hangs on. */
  under: string;
  chosen: boolean;
  /** What somebody else made of it meanwhile. */
  theirs: IdeaView | null;
  onText: (id: string, text: string) => void;
  onKey: (id: string, event: KeyboardEvent<HTMLInputElement>) => void;
  onChoose: (id: string) => void;
  onSettle: (id: string, whose: 'mine' | 'theirs') => void;
}

/** One idea, one line. A tree of five hundred draws this row alone while it is typed. */
export const OutlineRow = memo(function OutlineRow({
  idea,
  level,
  under,
  chosen,
  theirs,
  onText,
  onKey,
  onChoose,
  onSettle,
}: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const told = useRef<ReturnType<typeof setTimeout>>(undefined);
  const text = typed ?? idea.text;
  const tell = (words: string) => {
    clearTimeout(told.current);
    onText(idea.id, words);
    setTyped(null);
  };
  useEffect(() => () => clearTimeout(told.current), []);
  const state = idea.state ?? 'idea';
  return (
    <Box component="li" sx={{ pl: `${(level - 1) * 26}px` }}>
      <Box
        sx={{
          display: 'flex',
          gap: 1,
          alignItems: 'center',
          borderLeft: chosen ? '3px solid' : '3px solid transparent',
          borderColor: chosen ? 'primary.main' : 'transparent',
          pl: 0.75,
        }}
      >
        <Box
          component="span"
          role="img"
          aria-label={IDEA_STATES[state]}
          title={IDEA_STATES[state]}
          sx={{ width: 18, textAlign: 'center', visibility: level === 1 ? 'hidden' : 'visible' }}
        >
          {IDEA_MARKS[state]}
        </Box>
        <Field
          data-idea={idea.id}
          aria-label={TREES.idea(idea.text, level, under)}
          value={text}
          maxLength={300}
          placeholder={level === 1 ? TREES.branch : TREES.empty}
          style={{
            fontWeight: level === 1 || state === 'found_true' ? 650 : 400,
            textDecoration: state === 'ruled_out' ? 'line-through' : 'none',
          }}
          onFocus={() => onChoose(idea.id)}
          onChange={(event) => {
            const words = event.target.value;
            setTyped(words);
            clearTimeout(told.current);
            told.current = setTimeout(() => tell(words), TOLD_MS);
          }}
          onBlur={() => {
            if (typed !== null) tell(typed);
          }}
          onKeyDown={(event) => {
            const before = event.defaultPrevented;
            onKey(idea.id, event);
            // The key took what was typed along.
            if (!before && event.defaultPrevented) {
              clearTimeout(told.current);
              setTyped(null);
            }
          }}
        />
      </Box>
      {theirs && (
        <Box sx={{ pl: 4, pb: 1 }}>
          <Notice kind="caution">
            {TREES.theirs(theirs.changed_by, theirs.text)}{' '}
            <Button size="small" onClick={() => onSettle(idea.id, 'mine')}>
              {TREES.keepMine}
            </Button>
            <Button size="small" onClick={() => onSettle(idea.id, 'theirs')}>
              {TREES.takeTheirs}
            </Button>
          </Notice>
        </Box>
      )}
    </Box>
  );
});
