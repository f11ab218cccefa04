import { Box, Button, Link, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { memo, useDeferredValue, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import { answered, api, type CauseTreeView, type Origin } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { sentenceFor } from '../../words/failures';
import { originInWords, TREES } from '../../words/trees';
import { Details } from './Details';
import { DrawnTree } from './DrawnTree';
import { FactsPart } from './FactsPart';
import { Outline } from './Outline';
import type { Keeping } from './edits';
import { useTree } from './useTree';

/** A cause tree: the problem, the ideas as a list that is typed, what is known of the chosen one. */
export default function TreePage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.causeTree(id));
  return (
    <Loaded query={query} what={TREES.aTree}>
      {(tree) => <Tree key={tree.id} tree={tree} />}
    </Loaded>
  );
}

function Tree({ tree }: { tree: CauseTreeView }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [mayKeep, mayWrite] = [useMay('keep_study'), useMay('write_note')];
  const [chosen, setChosen] = useState<string | null>(null);
  const [drawn, setDrawn] = useState(!mayWrite);
  const edits = useTree(tree);
  // What is printed is drawn when nothing is typed: of five hundred ideas it takes longer than a key may.
  const settled = useDeferredValue(edits.ideas);
  const copy = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/cause-trees/{id}/copy', {
          params: { path: { id: tree.id } },
          body: { name: TREES.copyName(tree.name) },
        }),
      ),
    onSuccess: async ({ id }) => {
      await touch(client, { kind: 'cause_tree', tree: id });
      void navigate(`/cause-trees/${id}`);
    },
  });
  return (
    <Box>
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h1" sx={{ flex: 1, minWidth: 260 }}>
          {tree.name}
        </Typography>
        <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', displayPrint: 'none' }}>
          {mayWrite && (
            <Button color="inherit" aria-pressed={drawn} onClick={() => setDrawn(!drawn)}>
              {TREES.draw}
            </Button>
          )}
          <Button color="inherit" onClick={() => window.print()}>
            {TREES.print}
          </Button>
          {mayKeep && (
            <Button color="inherit" disabled={copy.isPending} onClick={() => copy.mutate()}>
              {TREES.copy}
            </Button>
          )}
        </Stack>
      </Stack>
      <Typography color="text.secondary" sx={{ mb: 1 }}>
        {TREES.made(tree.made_at, tree.made_by)}
        {tree.about != null && ` · ${tree.about}`}
        {tree.origin && (
          <>
            {' · '}
            <Link component={RouterLink} to={wayTo(tree.origin)}>
              {originInWords(tree.origin)}
            </Link>
          </>
        )}
        {tree.copy_of != null && (
          <>
            {' · '}
            <Link component={RouterLink} to={`/cause-trees/${tree.copy_of}`}>
              {TREES.copyOf}
            </Link>
          </>
        )}
      </Typography>
      <Failed why={copy.error} />
      <FactsPart key={tree.version} tree={tree} mayChange={mayKeep} />
      {mayWrite && !drawn && (
        <Box
          sx={{
            display: 'grid',
            displayPrint: 'none',
            gap: 2,
            alignItems: 'start',
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 400px' },
          }}
        >
          <Box sx={{ minWidth: 0 }}>
            <Outline edits={edits} chosen={chosen} onChoose={setChosen} />
            <Kept keeping={edits.keeping} />
            {edits.lost.map((text, i) => (
              <Notice key={i} kind="caution">
                {TREES.gone(text)}
              </Notice>
            ))}
          </Box>
          <Details key={chosen ?? ''} tree={tree.id} edits={edits} chosen={chosen} mayKeep={mayKeep} />
        </Box>
      )}
      <Box sx={drawn ? {} : { display: 'none', displayPrint: 'block' }}>
        <Drawn name={tree.name} ideas={settled} />
      </Box>
    </Box>
  );
}

const Drawn = memo(DrawnTree);

/** Said where it is seen, and aloud only when something is wrong. */
function Kept({ keeping }: { keeping: Keeping }) {
  if (typeof keeping === 'object')
    return (
      <Notice kind="problem">
        {TREES.refused}
        {sentenceFor(keeping.refused)}
      </Notice>
    );
  if (keeping === 'away') return <Notice kind="caution">{TREES.away}</Notice>;
  return (
    <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
      {keeping === 'kept' ? TREES.saved : TREES.saving}
    </Typography>
  );
}

function wayTo(origin: Origin): string {
  switch (origin.from) {
    case 'defect':
      return `/studies/defects?of=${origin.characteristic}`;
    case 'episode':
      return `/signals/${origin.episode}`;
    case 'study':
      return `/studies/${origin.study}`;
  }
}
