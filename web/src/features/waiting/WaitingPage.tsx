import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { Failure } from '../../api/failure';
import { usePerson } from '../../session/session';
import { useOutbox } from '../../outbox/Outbox';
import type { Deed, Waiting } from '../../outbox/store';
import { Notice } from '../../ui/Notice';
import { Empty } from '../../ui/States';
import { isAsked, sentenceFor } from '../../words/failures';
import { when } from '../../words/time';
import { queries } from '../../api/queries';
import { typeAgain, typedAt } from './mend';

const WHAT = { sample: 'Sample', gap: 'Skipped', event: 'What happened', run: 'Control run', pieces: 'Pieces counted' } as const;

/** What was entered on this device and is not yet on the server. */
export function WaitingPage() {
  const { waiting } = useOutbox();
  return (
    <Box sx={{ maxWidth: 820, mx: 'auto' }}>
      <Typography variant="h1">Waiting on this device</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        Entries go through by themselves, in order and once, as soon as the server can be reached. Each keeps the time it was entered.
      </Typography>
      {waiting.length === 0 && <Empty>Nothing waits. All that was entered here is on the server.</Empty>}
      <Stack spacing={1.5}>
        {waiting.map((entry) => (
          <Entry key={entry.entry} entry={entry} />
        ))}
      </Stack>
    </Box>
  );
}

function Entry({ entry }: { entry: Waiting }) {
  const { refused, deed } = entry;
  const person = usePerson();
  return (
    <Paper component="section" aria-label={entry.title} sx={{ p: 2 }}>
      <Typography sx={{ fontWeight: 600, fontSize: '1.08rem' }}>{entry.title}</Typography>
      <Typography color="text.secondary">
        {WHAT[deed.what]}, entered {when(entry.at)} by {entry.personName}
      </Typography>
      {!refused && entry.person !== person.id && (
        <Notice kind="caution">It goes through when {entry.personName} signs in on this device.</Notice>
      )}
      {refused && <Refused entry={entry} failure={new Failure(refused, refused.status)} />}
    </Paper>
  );
}

/** The same entry, unusual values confirmed. */
function confirmed(deed: Deed): Deed {
  switch (deed.what) {
    case 'sample':
      return { ...deed, body: { ...deed.body, confirmed: true } };
    case 'run':
      return { ...deed, body: { ...deed.body, confirmed: true } };
    case 'gap':
      return { ...deed, body: { ...deed.body, confirmed: true } };
    case 'event':
      return { ...deed, body: { ...deed.body, confirmed: true } };
    case 'pieces':
      return { ...deed, body: { ...deed.body, confirmed: true } };
  }
}

/** An entry that the server does not take as it is: mended, confirmed or given up. */
function Refused({ entry, failure }: { entry: Waiting; failure: Failure }) {
  const { again, drop } = useOutbox();
  const navigate = useNavigate();
  const [giving, setGiving] = useState(false);
  const [begun, setBegun] = useState(false);
  const { deed } = entry;
  const asked = isAsked(failure);
  const benches = useQuery({ ...queries.lab, enabled: deed.what === 'run' });
  const place = typedAt(deed);
  const mend = async (to: string) => {
    if (typeAgain(entry, benches.data ?? [])) {
      await drop(entry.entry);
      void navigate(to);
    } else {
      setBegun(true);
    }
  };
  return (
    <>
      <Notice kind={asked ? 'caution' : 'problem'}>{sentenceFor(failure)}</Notice>
      {begun && place !== null && (
        <Notice kind="caution">
          Another is half typed there. <Link component={RouterLink} to={place}>Save it or clear it first</Link>.
        </Notice>
      )}
      <Stack direction="row" spacing={1} sx={{ mt: 1, flexWrap: 'wrap' }}>
        {asked && (
          <Button variant="outlined" color="inherit" onClick={() => void again({ ...entry, deed: confirmed(deed) })}>
            {failure.code === 'confirm_time' ? 'Keep it, it was then' : 'Keep it, measured so'}
          </Button>
        )}
        {!asked && <Button variant="outlined" color="inherit" onClick={() => void again(entry)}>Send it again</Button>}
        {place !== null && <Button color="inherit" onClick={() => void mend(place)}>Type it again</Button>}
        {giving ? (
          <Button color="error" variant="outlined" onClick={() => void drop(entry.entry)}>Give it up for good</Button>
        ) : (
          <Button color="inherit" onClick={() => setGiving(true)}>Give it up …</Button>
        )}
      </Stack>
    </>
  );
}
