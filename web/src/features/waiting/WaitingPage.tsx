import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { Failure } from '../../api/failure';
import { queries } from '../../api/queries';
import { usePerson } from '../../session/session';
import { useOutbox } from '../../outbox/Outbox';
import type { Deed, Waiting } from '../../outbox/store';
import { Notice } from '../../ui/Notice';
import { Empty } from '../../ui/States';
import { isAsked, sentenceFor } from '../../words/failures';
import { enteredInWords, WAITING } from '../../words/waiting';
import { typeAgain, typedAt } from './mend';

/** What was entered on this device and is not yet on the server. */
export default function WaitingPage() {
  const { waiting } = useOutbox();
  return (
    <Box sx={{ maxWidth: 820, mx: 'auto' }}>
      <Typography variant="h1">{WAITING.title}</Typography>
      <Typography color="text.secondary" sx={{ mb: 1.5 }}>
        {WAITING.about}
      </Typography>
      {waiting.length === 0 && <Empty>{WAITING.nothing}</Empty>}
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
      <Typography color="text.secondary">{enteredInWords(deed.what, entry.at, entry.personName)}</Typography>
      {!refused && entry.person !== person.id && <Notice kind="caution">{WAITING.whenThere(entry.personName)}</Notice>}
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
    case 'answer':
    case 'addition':
      // Nothing is asked about them.
      return deed;
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
          {WAITING.halfTyped}{' '}
          <Link component={RouterLink} to={place}>
            {WAITING.saveOrClear}
          </Link>
        </Notice>
      )}
      <Stack direction="row" sx={{ mt: 1, gap: 1, flexWrap: 'wrap' }}>
        {asked && (
          <Button variant="outlined" color="inherit" onClick={() => void again({ ...entry, deed: confirmed(deed) })}>
            {failure.code === 'confirm_time' ? WAITING.itWasThen : WAITING.measuredSo}
          </Button>
        )}
        {!asked && (
          <Button variant="outlined" color="inherit" onClick={() => void again(entry)}>
            {WAITING.sendAgain}
          </Button>
        )}
        {place !== null && (
          <Button color="inherit" onClick={() => void mend(place)}>
            {WAITING.typeAgain}
          </Button>
        )}
        {giving ? (
          <Button color="error" variant="outlined" onClick={() => void drop(entry.entry)}>
            {WAITING.giveUpForGood}
          </Button>
        ) : (
          <Button color="inherit" onClick={() => setGiving(true)}>
            {WAITING.giveUp}
          </Button>
        )}
      </Stack>
    </>
  );
}
