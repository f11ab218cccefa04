import { Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { answered, api, type PeerGroupView } from '../../api/client';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { GIVEN } from '../../words/peers';

/** The server reads no larger file. */
const FILE_AT_MOST = 8_000_000;

/** Results and statistics as files, for a group that cannot be reached or has no address. */
export function ByHand({ group }: { group: PeerGroupView }) {
  const may = useMay('review_signal');
  return (
    <Paper component="section" aria-labelledby="by-hand" sx={{ p: 2 }}>
      <Typography id="by-hand" variant="h2" sx={{ mb: 1 }}>
        {GIVEN.byHand}
      </Typography>
      <Stack spacing={2}>
        <Out group={group} may={may} />
        {may && <In group={group} />}
      </Stack>
    </Paper>
  );
}

function Out({ group, may }: { group: PeerGroupView; may: boolean }) {
  const client = useQueryClient();
  const at = `/api/peers/${group.id}/results`;
  // What is surely in the file that was saved here last: asked for before it, since something may be reviewed between.
  const [saved, setSaved] = useState<{ id: string; revision: number }[] | null>(null);
  const save = useMutation({
    mutationFn: async (form: 'json' | 'csv') => {
      const params = { path: { id: group.id }, query: { waiting: true } };
      const { results } = await answered(api.GET('/api/peers/{id}/results.json', { params }));
      window.location.assign(`${at}.${form}?waiting=true`);
      return results.map(({ id, revision }) => ({ id, revision }));
    },
    onSuccess: setSaved,
  });
  const hand = useMutation({
    mutationFn: async (results: { id: string; revision: number }[]) => {
      await answered(api.POST('/api/peers/{id}/handed-over', { params: { path: { id: group.id } }, body: results }));
      await touch(client, { kind: 'peers', group: group.id });
    },
    onSuccess: () => setSaved(null),
  });
  return (
    <div>
      <Stack direction="row" sx={{ alignItems: 'center', columnGap: 2, flexWrap: 'wrap' }}>
        <span>{GIVEN.saveWaiting}:</span>
        <Button color="inherit" variant="outlined" disabled={save.isPending} onClick={() => save.mutate('json')}>
          {GIVEN.json}
        </Button>
        <Button color="inherit" variant="outlined" disabled={save.isPending} onClick={() => save.mutate('csv')}>
          {GIVEN.csv}
        </Button>
        <span>{GIVEN.saveAll}:</span>
        <Link href={`${at}.json`} download sx={TARGET}>
          {GIVEN.json}
        </Link>
        <Link href={`${at}.csv`} download sx={TARGET}>
          {GIVEN.csv}
        </Link>
      </Stack>
      {may && saved !== null && saved.length > 0 && (
        <Button variant="outlined" color="inherit" disabled={hand.isPending} onClick={() => hand.mutate(saved)}>
          {GIVEN.handedOver(saved.length)}
        </Button>
      )}
      <Typography color="text.secondary">{GIVEN.markHanded}</Typography>
      <Failed why={save.error ?? hand.error} />
    </div>
  );
}

const TARGET = { minHeight: 48, display: 'inline-flex', alignItems: 'center' } as const;

function In({ group }: { group: PeerGroupView }) {
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const take = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > FILE_AT_MOST) throw new RangeError(GIVEN.tooLarge);
      const params = { path: { id: group.id } };
      const body = { text: await file.text() };
      const taken = await answered(api.POST('/api/peers/{id}/statistics', { params, body }));
      await touch(client, { kind: 'peers', group: group.id });
      return taken;
    },
  });
  return (
    <div>
      <Stack direction="row" sx={{ alignItems: 'center', columnGap: 2, flexWrap: 'wrap' }}>
        <span>{GIVEN.takeIn}:</span>
        <input
          ref={input}
          type="file"
          hidden
          accept=".json,.csv,application/json,text/csv"
          aria-label={GIVEN.takeIn}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) take.mutate(file);
            // The same file can be chosen again after it was mended.
            event.target.value = '';
          }}
        />
        <Button variant="outlined" color="inherit" disabled={take.isPending} onClick={() => input.current?.click()}>
          {GIVEN.choose}
        </Button>
      </Stack>
      <Typography color="text.secondary">{GIVEN.takeInAbout}</Typography>
      {take.data && <Notice kind="settled">{GIVEN.tookIn(take.data.changed, take.data.known)}</Notice>}
      {take.error instanceof RangeError ? (
        <Notice kind="problem">{GIVEN.tooLarge}</Notice>
      ) : (
        <Failed why={take.error} />
      )}
    </div>
  );
}
