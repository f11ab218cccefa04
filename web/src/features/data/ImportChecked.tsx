import { Box, Button, Checkbox, FormControlLabel, Stack } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Plan, type ToBringIn } from '../../api/client';
import { factsOf } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { INTO, rowsRefused } from '../../words/data';
import { ChangedRows } from './ChangedRows';
import { Coming } from './Coming';

/** What would come of it, and the deed itself. */
export function ImportChecked({
  asked,
  cells,
  setup,
  onKeyColumns,
}: {
  asked: ToBringIn;
  cells: number;
  setup: Plan['characteristics'][number] | undefined;
  onKeyColumns: (columns: readonly string[]) => void;
}) {
  const client = useQueryClient();
  const check = useQuery(queries.importCheck(asked));
  const [onlyRight, setOnlyRight] = useState(false);
  const [sameList, setSameList] = useState(false);
  const bringIn = useMutation({
    mutationFn: async () => {
      const body = { ...asked, only_right: onlyRight, same_list: sameList };
      const { id } = await answered(api.POST('/api/data/imports', { body }));
      await touch(client, { kind: 'limits', characteristic: asked.characteristic });
      return id;
    },
  });
  const knownAsBefore = (error: unknown) => {
    const before = factsOf(error, 'known_otherwise');
    return (
      before && (
        <Button variant="outlined" onClick={() => onKeyColumns(before.key)}>
          {INTO.knowBy(before.key)}
        </Button>
      )
    );
  };
  if (bringIn.data !== undefined) {
    return (
      <Box sx={{ mt: 2 }}>
        <Coming id={bringIn.data} into={asked.characteristic} />
      </Box>
    );
  }
  return (
    <Box sx={{ mt: 1.5 }}>
      <Loaded query={check} what={INTO.checking} wayOut={knownAsBefore}>
        {(found) => {
          const wrong = found.refused + cells;
          return (
            <Stack sx={{ gap: 1, alignItems: 'flex-start' }}>
              <div role="status">
                {found.new === 0 && wrong === 0 ? INTO.nothing : INTO.fits(found)}{' '}
                {found.from != null && found.to != null && INTO.span(found.from, found.to)}{' '}
                {found.judged_again > 0 && INTO.judgedAgain(found.judged_again)}
              </div>
              {found.changed > 0 && setup !== undefined && <ChangedRows asked={asked} found={found} setup={setup} />}
              {found.looks_like_another && (
                <>
                  <Notice kind="caution">{INTO.another}</Notice>
                  <FormControlLabel
                    control={<Checkbox checked={sameList} onChange={(_, checked) => setSameList(checked)} />}
                    label={INTO.sameList}
                  />
                </>
              )}
              {found.refused > 0 && (
                <Notice kind="problem">
                  {INTO.refused(found.refused)}
                  <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
                    {rowsRefused(found.first_refused)
                      .slice(0, 10)
                      .map((why) => (
                        <li key={why}>{why}</li>
                      ))}
                  </Box>
                </Notice>
              )}
              {wrong > 0 && (
                <FormControlLabel
                  control={<Checkbox checked={onlyRight} onChange={(_, checked) => setOnlyRight(checked)} />}
                  label={INTO.onlyRight}
                />
              )}
              {found.new > 0 && (
                <Button
                  variant="contained"
                  disabled={bringIn.isPending || (wrong > 0 && !onlyRight) || (found.looks_like_another && !sameList)}
                  onClick={() => bringIn.mutate()}
                >
                  {INTO.bringIn(found.new)}
                </Button>
              )}
              <Failed why={bringIn.error} />
            </Stack>
          );
        }}
      </Loaded>
    </Box>
  );
}
