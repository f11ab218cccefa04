import { Button, LinearProgress, Stack } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { Loaded } from '../../ui/States';
import { cameOf, DATA } from '../../words/data';

/** How far an import is; while it is under way it can be taken back. */
export function Progress({ id }: { id: string }) {
  const client = useQueryClient();
  const query = useQuery(queries.import(id));
  const cancel = useMutation({
    mutationFn: () => answered(api.DELETE('/api/data/imports/{id}', { params: { path: { id } } })),
    onSettled: async () => {
      await Promise.all([
        client.invalidateQueries({ queryKey: ['import', id] }),
        client.invalidateQueries({ queryKey: ['imports'] }),
      ]);
    },
  });
  return (
    <Loaded query={query} what={DATA.what}>
      {(it) => {
        if (it.state !== 'waiting' && it.state !== 'staged') return <>{cameOf(it)}</>;
        // Points behind the last one that is new are judged again too, so more may be done than was foreseen.
        const share = Math.min(100, Math.floor((100 * (it.done ?? 0)) / Math.max(it.to_do ?? 1, 1)));
        return (
          <Stack sx={{ gap: 0.5, minWidth: 220 }}>
            <span>{cameOf(it)}</span>
            <LinearProgress variant="determinate" value={share} aria-label={DATA.judging(share)} />
            <Stack direction="row" sx={{ alignItems: 'center', gap: 1 }}>
              <span>{DATA.judging(share)}</span>
              <Button size="small" color="inherit" disabled={cancel.isPending} onClick={() => cancel.mutate()}>
                {DATA.cancel}
              </Button>
            </Stack>
            <Failed why={cancel.error} />
          </Stack>
        );
      }}
    </Loaded>
  );
}
