import { Box, Paper, Typography, useTheme } from '@mui/material';
import type { Idea } from '../../api/client';
import { IDEA_MARKS, IDEA_STATES, TREES } from '../../words/trees';
import { childrenOf, type Ideas } from './tree';

/** The tree from left to right, as it is read on paper: branches do not break where they need not. */
export function DrawnTree({ name, ideas }: { name: string; ideas: Ideas }) {
  const children = childrenOf(ideas);
  const all = [...ideas.values()];
  const found = all.filter(({ state }) => state === 'found_true').length;
  const hanging = all.filter(({ parent }) => parent != null).length;
  return (
    <Paper component="section" aria-label={TREES.drawn} sx={{ p: 2, mb: 2 }}>
      <Typography variant="h2">{TREES.drawn}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {TREES.inWords(name, hanging, found)}
      </Typography>
      <Branches of={children.get(null) ?? []} under={children} level={1} />
      <Box
        component="ul"
        sx={{ display: 'flex', gap: 2.5, flexWrap: 'wrap', listStyle: 'none', m: 0, mt: 1.5, p: 0 }}
        aria-hidden
      >
        {Object.entries(IDEA_STATES).map(([state, words]) => (
          <Typography key={state} component="li" variant="body2" color="text.secondary">
            {IDEA_MARKS[state as Idea['state'] & string]} {words}
          </Typography>
        ))}
      </Box>
    </Paper>
  );
}

function Branches({
  of,
  under,
  level,
}: {
  of: readonly Idea[];
  under: ReadonlyMap<string | null, Idea[]>;
  level: number;
}) {
  const { ink } = useTheme();
  return (
    <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, pl: level === 1 ? 0 : 3 }}>
      {of.map((idea, i) => {
        const below = under.get(idea.id) ?? [];
        const last = i === of.length - 1;
        const state = idea.state ?? 'idea';
        return (
          <Box
            component="li"
            key={idea.id}
            sx={{
              position: 'relative',
              breakInside: level === 1 ? 'auto' : 'avoid',
              py: 0.25,
              ...(level > 1 && {
                // Down along the siblings, and across to this one.
                '&::before': {
                  content: '""',
                  position: 'absolute',
                  left: -14,
                  top: 0,
                  height: last ? 16 : '100%',
                  borderLeft: `1.5px solid ${ink.line}`,
                },
                '&::after': {
                  content: '""',
                  position: 'absolute',
                  left: -14,
                  top: 16,
                  width: 10,
                  borderTop: `1.5px solid ${ink.line}`,
                },
              }),
            }}
          >
            <Typography
              component="div"
              sx={{
                fontWeight: level === 1 || state === 'found_true' ? 650 : 400,
                textDecoration: state === 'ruled_out' ? 'line-through' : 'none',
                mt: level === 1 ? 1 : 0,
              }}
            >
              {level > 1 && (
                <Box component="span" role="img" aria-label={IDEA_STATES[state]} sx={{ mr: 0.75 }}>
                  {IDEA_MARKS[state]}
                </Box>
              )}
              {idea.text}
            </Typography>
            {(idea.actions ?? []).map((action, at) => (
              <Typography key={at} variant="body2" color="text.secondary" sx={{ pl: 3 }}>
                → {action.text}
                {action.check_on != null && ` (${TREES.checkOn} ${action.check_on})`}
                {action.outcome != null && `: ${action.outcome}`}
              </Typography>
            ))}
            {below.length > 0 && <Branches of={below} under={under} level={level + 1} />}
          </Box>
        );
      })}
    </Box>
  );
}
