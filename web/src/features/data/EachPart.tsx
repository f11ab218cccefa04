import { Box, Button, Checkbox, FormControlLabel, Stack, Typography } from '@mui/material';
import { useMutation, useQueries, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Kind, type ToBringIn } from '../../api/client';
import { queries } from '../../api/queries';
import { type TablePart, tagsOf } from '../../api/recipe';
import { touch } from '../../api/touches';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import { Failed } from '../../ui/Failed';
import { INTO, rowsRefused } from '../../words/data';
import { Coming } from './Coming';

/** Refused rows that are named of a part. */
const NAMED = 3;

interface Props {
  parts: readonly TablePart[];
  /** What a part is called. */
  say: (name: string) => string;
  /** Kinds that a part can be brought into. */
  kinds: readonly Kind[];
  /** As it would be asked for one characteristic. */
  asked: ToBringIn;
  /** Tags that a characteristic asks for. */
  askedOf: (characteristic: string) => readonly string[];
}

/** Several characteristics at once: each part of the table goes into one of its own. */
export function EachPart({ parts: all, say, kinds, asked, askedOf }: Props) {
  const client = useQueryClient();
  const [into, setInto] = useState<Readonly<Record<string, string>>>({});
  const [onlyRight, setOnlyRight] = useState(false);
  const hasTags = all.some(({ recipe }) => tagsOf(recipe).length > 0);
  const parts = all
    .map(({ name, recipe }) => ({ name, recipe, characteristic: into[name] ?? '' }))
    .filter(({ characteristic }) => characteristic !== '')
    .map(({ name, recipe, characteristic }) => {
      const one = recipe as unknown as Record<string, never>;
      const without = tagsOf(recipe).filter((tag) => !askedOf(characteristic).includes(tag));
      // The kept recipe reads the whole table.
      const body: ToBringIn = { ...asked, recipe: one, recipe_id: null, characteristic, without_tags: without };
      return { name, body };
    });
  const checks = useQueries({ queries: parts.map(({ body }) => queries.importCheck(body)) });
  const seen = useQueries({
    queries: parts.map(({ body }) => queries.shaped(body.file, body.recipe)),
  });
  const cells = seen.map(({ data }) => data?.refused ?? 0);
  const wrong = checks.some(({ data }, i) => (data?.refused ?? 0) + (cells[i] ?? 0) > 0);
  const another = checks.some(({ data }) => data?.looks_like_another ?? false);
  const known = [...checks, ...seen].every(({ data }) => data !== undefined);
  const fresh = checks.reduce((sum, { data }) => sum + (data?.new ?? 0), 0);
  const bringIn = useMutation({
    mutationFn: async () => {
      const made: { name: string; characteristic: string; id: string }[] = [];
      for (const { name, body } of parts) {
        const { id } = await answered(api.POST('/api/data/imports', { body: { ...body, only_right: onlyRight } }));
        await touch(client, { kind: 'limits', characteristic: body.characteristic });
        made.push({ name, characteristic: body.characteristic, id });
      }
      return made;
    },
    // What went in before one was refused is known now, and is not brought in again.
    onError: () => client.invalidateQueries({ queryKey: ['import-check'] }),
  });
  if (bringIn.data !== undefined) {
    return (
      <Stack sx={{ gap: 1, mt: 2 }}>
        {bringIn.data.map(({ name, characteristic, id }) => (
          <Coming key={name} id={id} into={characteristic} name={say(name)} />
        ))}
      </Stack>
    );
  }
  return (
    <Stack sx={{ gap: 1.25, mt: 1.5, alignItems: 'flex-start' }}>
      {all.map(({ name }) => {
        const at = parts.findIndex((part) => part.name === name);
        const found = checks[at]?.data;
        return (
          <Box key={name}>
            <CharacteristicPick
              label={say(name)}
              value={into[name] ?? ''}
              kinds={kinds}
              none={INTO.notIn}
              onPick={(id) => setInto({ ...into, [name]: id })}
            />
            <Failed why={checks[at]?.error ?? seen[at]?.error} />
            {found && (
              <Box role="status" sx={{ mt: 0.5 }}>
                {found.new === 0 && found.refused === 0 ? INTO.nothing : INTO.fits(found)}{' '}
                {(cells[at] ?? 0) > 0 && INTO.cellsRefused(cells[at] ?? 0)}{' '}
                {rowsRefused(found.first_refused).slice(0, NAMED).join(' ')} {found.looks_like_another && INTO.another}
              </Box>
            )}
          </Box>
        );
      })}
      {parts.length > 0 && hasTags && <Typography color="text.secondary">{INTO.tagsAlone}</Typography>}
      {wrong && (
        <FormControlLabel
          control={<Checkbox checked={onlyRight} onChange={(_, checked) => setOnlyRight(checked)} />}
          label={INTO.onlyRight}
        />
      )}
      {parts.length > 0 && known && fresh > 0 && (
        <Button
          variant="contained"
          disabled={bringIn.isPending || another || (wrong && !onlyRight)}
          onClick={() => bringIn.mutate()}
        >
          {INTO.inParts(fresh, parts.length)}
        </Button>
      )}
      <Failed why={bringIn.error} />
    </Stack>
  );
}
