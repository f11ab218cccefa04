import { Button, Stack, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type RecipeView } from '../../api/client';
import type { Recipe } from '../../api/recipe';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { SHAPE } from '../../words/data';

/** The recipe is kept under a name, or a kept one is changed to it. */
export function KeepRecipe({
  recipe,
  keyColumns,
  known,
  onKept,
}: {
  recipe: Recipe;
  /** Columns that a row is known by again. */
  keyColumns: readonly string[];
  known: RecipeView | null;
  onKept: (id: string) => void;
}) {
  const client = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const body = { recipe: recipe as unknown as Record<string, never>, key: [...keyColumns] };
  const done = () => client.invalidateQueries({ queryKey: ['recipes'] });
  const keep = useMutation({
    mutationFn: async (name: string) => {
      const kept = await answered(api.POST('/api/data/recipes', { body: { name, ...body } }));
      await done();
      onKept(kept.id);
      setName(null);
    },
  });
  const change = useMutation({
    mutationFn: async ({ id, name, version }: RecipeView) => {
      const params = { path: { id } };
      await answered(api.PUT('/api/data/recipes/{id}', { params, body: { name, version, ...body } }));
      await done();
    },
  });
  const differs = known !== null && JSON.stringify([known.recipe, known.key]) !== JSON.stringify([recipe, keyColumns]);
  return (
    <Stack direction="row" sx={{ gap: 1.5, my: 2, flexWrap: 'wrap', alignItems: 'center' }}>
      {name === null ? (
        <Button color="inherit" variant="outlined" onClick={() => setName('')}>
          {SHAPE.keep}
        </Button>
      ) : (
        <>
          <TextField
            size="small"
            autoFocus
            fullWidth={false}
            label={SHAPE.keepAs}
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') keep.mutate(name);
              if (event.key === 'Escape') setName(null);
            }}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          <Button variant="outlined" disabled={keep.isPending || name.trim() === ''} onClick={() => keep.mutate(name)}>
            {SHAPE.keepDo}
          </Button>
        </>
      )}
      {differs && (
        <Button color="inherit" disabled={change.isPending} onClick={() => change.mutate(known)}>
          {SHAPE.change(known.name)}
        </Button>
      )}
      {(keep.isSuccess || change.isSuccess) && !differs && <Notice kind="settled">{SHAPE.kept}</Notice>}
      <Failed why={keep.error ?? change.error} />
    </Stack>
  );
}
