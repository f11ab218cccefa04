import { Box, Button, Link, Paper, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { Evidence, IdeaState, TreeAction } from '../../api/client';
import { queries } from '../../api/queries';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import { IDEA_MARKS, IDEA_STATES, TREES } from '../../words/trees';
import { Catalogue } from './Catalogue';
import { withAllBelow } from './tree';
import type { TreeEdits } from './useTree';

const STATES = Object.keys(IDEA_STATES) as IdeaState[];

/** What is known of the chosen idea, and what more can be said of it. */
export function Details({
  tree,
  edits,
  chosen,
  mayKeep,
}: {
  tree: string;
  edits: TreeEdits;
  chosen: string | null;
  mayKeep: boolean;
}) {
  const people = useQuery(queries.people).data ?? [];
  const idea = chosen === null ? undefined : edits.ideas.get(chosen);
  if (!idea)
    return (
      <Paper component="section" aria-label={TREES.details} sx={{ p: 2 }}>
        <Typography color="text.secondary">{TREES.chooseOne}</Typography>
      </Paper>
    );
  const put = (changes: Partial<typeof idea>) => edits.put([{ ...idea, ...changes }]);
  const known = edits.known.get(idea.id);
  const who: readonly (readonly [string, string])[] = [
    ['', TREES.nobody],
    ...people.map(({ id, name }) => [id, name] as const),
  ];
  const [evidence, actions] = [idea.evidence ?? [], idea.actions ?? []];
  const isBranch = idea.parent == null;
  return (
    <Paper component="section" aria-label={TREES.details} sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1.5, overflowWrap: 'anywhere' }}>
        {idea.text === '' ? TREES.details : idea.text}
      </Typography>
      <Stack spacing={1.5} sx={{ alignItems: 'flex-start' }}>
        {!isBranch && (
          <>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={idea.state}
              aria-label={TREES.state}
              onChange={(_, state: IdeaState | null) => state && put({ state })}
              sx={{ flexWrap: 'wrap' }}
            >
              {STATES.map((state) => (
                <ToggleButton key={state} value={state} sx={{ textTransform: 'none' }}>
                  {IDEA_MARKS[state]}&nbsp;{IDEA_STATES[state]}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
            <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
              <Pick
                label={TREES.owner}
                value={idea.owner ?? ''}
                onPick={(owner) => put({ owner: owner === '' ? null : owner })}
                options={who}
              />
              <DayPick
                label={TREES.due}
                value={idea.due ?? ''}
                onPick={(due) => put({ due: due === '' ? null : due })}
              />
            </Box>
            <EvidencePart evidence={evidence} onPut={(changed) => put({ evidence: changed })} />
            <ActionsPart actions={actions} who={who} onPut={(changed) => put({ actions: changed })} />
            {idea.state === 'found_true' && mayKeep && (
              <Catalogue tree={tree} idea={idea} cause={known?.cause ?? null} kept={edits.keeping === 'kept'} />
            )}
          </>
        )}
        {known && (
          <Typography variant="body2" color="text.secondary">
            {TREES.changedBy(known.changed_by, known.changed_at)}
          </Typography>
        )}
        <Button
          color="inherit"
          onClick={() => withAllBelow(edits.ideas, idea.id).reverse().forEach(edits.remove)}
          sx={{ alignSelf: 'flex-start' }}
        >
          {TREES.takeOut}
        </Button>
      </Stack>
    </Paper>
  );
}

function EvidencePart({ evidence, onPut }: { evidence: readonly Evidence[]; onPut: (evidence: Evidence[]) => void }) {
  const [says, setSays] = useState('');
  const [path, setPath] = useState('');
  const within = pathOf(path);
  return (
    <Box component="section" aria-label={TREES.evidence} sx={{ width: '100%' }}>
      <Typography variant="h3">{TREES.evidence}</Typography>
      {evidence.map((one, i) => (
        <Stack key={i} direction="row" sx={{ alignItems: 'center', gap: 1 }}>
          <Link component={RouterLink} to={one.path} sx={{ flex: 1, overflowWrap: 'anywhere' }}>
            {one.says}
          </Link>
          <Button size="small" color="inherit" onClick={() => onPut(evidence.filter((_, at) => at !== i))}>
            {TREES.takeAway}
          </Button>
        </Stack>
      ))}
      <Stack direction="row" sx={{ gap: 1, mt: 1, flexWrap: 'wrap', alignItems: 'flex-start' }}>
        <TextField
          size="small"
          label={TREES.says}
          value={says}
          onChange={(event) => setSays(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        <TextField
          size="small"
          label={TREES.path}
          value={path}
          helperText={TREES.pathHint}
          error={path !== '' && within === null}
          onChange={(event) => setPath(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 600 } }}
        />
        <Button
          disabled={says.trim() === '' || within === null}
          onClick={() => {
            if (within === null) return;
            onPut([...evidence, { says: says.trim(), path: within }]);
            setSays('');
            setPath('');
          }}
        >
          {TREES.add}
        </Button>
      </Stack>
    </Box>
  );
}

/** The path of a link to this site, as it is pasted; nothing where it leads elsewhere. */
function pathOf(link: string): string | null {
  try {
    const url = new URL(link.trim(), window.location.origin);
    return url.origin === window.location.origin && link.trim() !== '' ? url.pathname + url.search : null;
  } catch {
    return null;
  }
}

function ActionsPart({
  actions,
  who,
  onPut,
}: {
  actions: readonly TreeAction[];
  who: readonly (readonly [string, string])[];
  onPut: (actions: TreeAction[]) => void;
}) {
  const [text, setText] = useState('');
  const change = (at: number, changes: Partial<TreeAction>) =>
    onPut(actions.map((action, i) => (i === at ? { ...action, ...changes } : action)));
  const add = () => {
    onPut([...actions, { text: text.trim(), owner: null, check_on: null, outcome: null }]);
    setText('');
  };
  return (
    <Box component="section" aria-label={TREES.actions} sx={{ width: '100%' }}>
      <Typography variant="h3">{TREES.actions}</Typography>
      {actions.map((action, i) => (
        <Stack key={i} spacing={1} sx={{ borderTop: '1px solid', borderColor: 'divider', py: 1.25 }}>
          <Stack direction="row" sx={{ alignItems: 'center', gap: 1 }}>
            <Typography sx={{ flex: 1, overflowWrap: 'anywhere' }}>{action.text}</Typography>
            <Button size="small" color="inherit" onClick={() => onPut(actions.filter((_, at) => at !== i))}>
              {TREES.takeAway}
            </Button>
          </Stack>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            <Pick
              label={TREES.actionOwner}
              value={action.owner ?? ''}
              onPick={(owner) => change(i, { owner: owner === '' ? null : owner })}
              options={who}
            />
            <DayPick
              label={TREES.checkOn}
              value={action.check_on ?? ''}
              onPick={(day) => change(i, { check_on: day === '' ? null : day })}
            />
          </Box>
          <TextField
            size="small"
            label={TREES.outcome}
            defaultValue={action.outcome ?? ''}
            onBlur={({ target }) => {
              const outcome = target.value.trim() === '' ? null : target.value.trim();
              if (outcome !== (action.outcome ?? null)) change(i, { outcome });
            }}
          />
        </Stack>
      ))}
      <Stack direction="row" sx={{ gap: 1, mt: 1 }}>
        <TextField
          size="small"
          label={TREES.action}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && text.trim() !== '') add();
          }}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
        <Button disabled={text.trim() === ''} onClick={add}>
          {TREES.add}
        </Button>
      </Stack>
    </Box>
  );
}
