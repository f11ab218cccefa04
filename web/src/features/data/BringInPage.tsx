import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useParams } from 'react-router';
import type { RecipeProposal } from '../../api/client';
import { queries } from '../../api/queries';
import type { Recipe } from '../../api/recipe';
import { Notice } from '../../ui/Notice';
import { Pick } from '../../ui/Pick';
import { Loaded } from '../../ui/States';
import { DATA, SHAPE } from '../../words/data';
import { sentenceFor } from '../../words/failures';
import { IntoPanel } from './IntoPanel';
import { KeepRecipe } from './KeepRecipe';
import { ReadFields } from './ReadFields';
import { SamplesView } from './SamplesView';
import { ShapeSentences } from './ShapeSentences';
import { SheetView } from './SheetView';
import { WhereFields } from './WhereFields';

/** A table gets its shape: the sheet with its marks, and beside it the samples as they will be. */
export default function BringInPage() {
  const { file = '' } = useParams();
  const proposal = useQuery(queries.proposal(file, null));
  return (
    <Box sx={{ maxWidth: 1600, mx: 'auto' }}>
      <Loaded query={proposal} what={DATA.reading}>
        {(proposed) => <ShapingOf key={file} proposed={proposed} />}
      </Loaded>
    </Box>
  );
}

interface Shaping {
  recipe: Recipe;
  /** Columns that a row is known by again. */
  keyColumns: readonly string[];
}

/** What a file is brought in by: there again when one comes back to it, or the page is loaded again. */
function useKeptShaping(file: string, proposed: Recipe) {
  const kept = `nuvek.shaping.${file}`;
  const [shaping, setShaping] = useState<Shaping>(() => {
    const text = sessionStorage.getItem(kept);
    return text === null ? { recipe: proposed, keyColumns: [] } : (JSON.parse(text) as Shaping);
  });
  const change = (next: Shaping) => {
    sessionStorage.setItem(kept, JSON.stringify(next));
    setShaping(next);
  };
  return [shaping, change] as const;
}

function ShapingOf({ proposed }: { proposed: RecipeProposal }) {
  const { file } = proposed;
  const [shaping, setShaping] = useKeptShaping(file.id, proposed.recipe as unknown as Recipe);
  const { recipe, keyColumns } = shaping;
  const setRecipe = (recipe: Recipe) => setShaping({ ...shaping, recipe });
  const [keptId, setKeptId] = useState<string | null>(null);
  const kept = useQuery(queries.recipes).data ?? [];
  const shaped = useQuery({
    ...queries.shaped(file.id, recipe as unknown as Record<string, never>),
    placeholderData: keepPreviousData,
  });
  const seen = shaped.data;
  const columns = seen?.columns ?? [];
  const choose = (id: string) => {
    const one = kept.find((recipe) => recipe.id === id);
    setKeptId(one?.id ?? null);
    setShaping({ recipe: (one?.recipe ?? proposed.recipe) as unknown as Recipe, keyColumns: one?.key ?? [] });
  };
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'center', columnGap: 2, rowGap: 1, flexWrap: 'wrap', mb: 1 }}>
        <Typography variant="h1" sx={{ flex: 1, minWidth: 240, overflowWrap: 'anywhere' }}>
          {file.name}
        </Typography>
        {kept.length > 0 && (
          <Pick
            label={SHAPE.recipe}
            value={keptId ?? ''}
            options={[['', SHAPE.proposed], ...kept.map(({ id, name }) => [id, name] as const)]}
            onPick={choose}
          />
        )}
        <Button component={RouterLink} to="/data" color="inherit" variant="outlined">
          {DATA.another}
        </Button>
      </Stack>
      {file.imported_at != null && <Notice kind="caution">{DATA.before(file.imported_at)}</Notice>}
      <Paper component="section" aria-label={SHAPE.sentence} sx={{ p: 2, mb: 2 }}>
        {keptId === null && <Typography sx={{ mb: 1.5 }}>{SHAPE.reason[proposed.reason]}</Typography>}
        <ShapeSentences recipe={recipe} columns={columns} onChange={setRecipe} />
        <ReadFields recipe={recipe} sheets={proposed.sheets} onChange={setRecipe} />
        {seen && <WhereFields key={keptId ?? ''} recipe={recipe} seen={seen} onChange={setRecipe} />}
      </Paper>
      {shaped.error && (
        <Box sx={{ mb: 2 }}>
          <Notice kind="problem">{sentenceFor(shaped.error)}</Notice>
        </Box>
      )}
      {seen && (
        <Box
          sx={{
            display: 'grid',
            gap: 2,
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 3fr) minmax(0, 2fr)' },
            opacity: shaped.isPlaceholderData || shaped.error ? 0.6 : 1,
          }}
        >
          <SheetView seen={seen} recipe={recipe} onChange={setRecipe} />
          <SamplesView seen={seen} />
        </Box>
      )}
      {seen && !shaped.error && (
        <>
          <KeepRecipe
            recipe={recipe}
            keyColumns={keyColumns}
            known={kept.find(({ id }) => id === keptId) ?? null}
            onKept={setKeptId}
          />
          {seen.samples > 0 && (
            <IntoPanel
              file={file}
              recipe={recipe}
              recipeId={keptId}
              seen={seen}
              keyColumns={keyColumns}
              onKeyColumns={(keyColumns) => setShaping({ ...shaping, keyColumns })}
              onChange={setRecipe}
            />
          )}
        </>
      )}
    </>
  );
}
