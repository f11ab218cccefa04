import { Box, Button, Link, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import { answered, api, type StudyView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { useMay, usePerson } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { sinceInWords, STUDIES } from '../../words/studies';
import { TREES } from '../../words/trees';
import { askAt } from './questions';
import { StudyBody } from './StudyBody';

/** A study that was kept, with its answer as it was found. */
export default function StudyPage() {
  const { id = '' } = useParams();
  const query = useQuery(queries.study(id));
  return (
    <Loaded query={query} what={STUDIES.aStudy}>
      {(study) => <Study key={`${study.id} ${study.version}`} study={study} />}
    </Loaded>
  );
}

function Study({ study }: { study: StudyView }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const person = usePerson();
  const mayKeep = useMay('keep_study');
  const [signing, setSigning] = useState(false);
  const { id, version, name, remark, question } = study;
  const frozen = study.stage === 'frozen';
  const [of] = Object.keys(study.state.trails);
  const path = { id };
  const refresh = useMutation({
    mutationFn: () =>
      answered(
        api.PUT('/api/studies/{id}', { params: { path }, body: { version, name, remark: remark ?? null, question } }),
      ),
    onSuccess: () => touch(client, { kind: 'study', study: id }),
  });
  const freeze = useMutation({
    mutationFn: () => answered(api.POST('/api/studies/{id}/freeze', { params: { path }, body: { version } })),
    onSuccess: async ({ id: copy }) => {
      await touch(client, { kind: 'study', study: id });
      void navigate(`/studies/${copy}`);
    },
  });
  const signed = study.signatures.some(({ person_id: by }) => by === person.id);
  return (
    <Box>
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h1" sx={{ flex: 1, minWidth: 260 }}>
          {name}
        </Typography>
        <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap', displayPrint: 'none' }}>
          <Button color="inherit" onClick={() => window.print()}>
            {STUDIES.print}
          </Button>
          {mayKeep && of !== undefined && (
            <Button
              color="inherit"
              component={RouterLink}
              to={`/cause-trees/new?${new URLSearchParams({ of, study: id, name }).toString()}`}
            >
              {TREES.start}
            </Button>
          )}
          {mayKeep && !frozen && (
            <>
              <Button color="inherit" component={RouterLink} to={`${askAt(question)}&study=${id}`}>
                {STUDIES.otherwise}
              </Button>
              <Button color="inherit" disabled={freeze.isPending} onClick={() => freeze.mutate()}>
                {STUDIES.freeze}
              </Button>
              <Button variant="outlined" disabled={refresh.isPending} onClick={() => refresh.mutate()}>
                {STUDIES.refresh}
              </Button>
            </>
          )}
          {mayKeep && frozen && !signed && !signing && (
            <Button variant="outlined" onClick={() => setSigning(true)}>
              {STUDIES.sign}
            </Button>
          )}
        </Stack>
      </Stack>
      {remark != null && <Typography sx={{ mb: 0.5, maxWidth: 900 }}>{remark}</Typography>}
      <Box sx={{ mb: 1.5 }}>
        {frozen ? (
          <Notice kind="settled">
            {STUDIES.frozenHint} {sinceInWords(study.answered_at, study.answered_by, study.since)}{' '}
            {study.frozen_of != null && (
              <Link component={RouterLink} to={`/studies/${study.frozen_of}`}>
                {STUDIES.toOriginal}
              </Link>
            )}
          </Notice>
        ) : (
          <Notice kind={study.since ? 'caution' : 'settled'}>
            {sinceInWords(study.answered_at, study.answered_by, study.since)}
          </Notice>
        )}
        {study.signatures.map(({ person_id: by, name: who, at }) => (
          <Notice key={by} kind="settled">
            {STUDIES.signed(who, at)}
          </Notice>
        ))}
      </Box>
      {signing && <SignForm study={study} onDone={() => setSigning(false)} />}
      <Failed why={refresh.error ?? freeze.error} />
      <StudyBody question={question} answer={study.answer} />
      {study.copies.length > 0 && (
        <Typography sx={{ mt: 2 }}>
          {STUDIES.copies}:{' '}
          {study.copies.map((copy, i) => (
            <Link key={copy} component={RouterLink} to={`/studies/${copy}`} sx={{ mr: 1.5 }}>
              {STUDIES.copy(study.copies.length - i)}
            </Link>
          ))}
        </Typography>
      )}
    </Box>
  );
}

function SignForm({ study, onDone }: { study: StudyView; onDone: () => void }) {
  const client = useQueryClient();
  const [password, setPassword] = useState('');
  const sign = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/studies/{id}/sign', {
          params: { path: { id: study.id } },
          body: { by: { password }, digest: study.digest },
        }),
      ),
    onSuccess: async () => {
      await touch(client, { kind: 'study', study: study.id });
      onDone();
    },
    onError: () => setPassword(''),
  });
  return (
    <Stack
      component="form"
      aria-label={STUDIES.signTitle}
      sx={{ gap: 1, mb: 2, maxWidth: 620 }}
      onSubmit={(event) => {
        event.preventDefault();
        sign.mutate();
      }}
    >
      <Typography>{STUDIES.signMeaning}</Typography>
      <Stack direction="row" sx={{ gap: 1 }}>
        <TextField
          type="password"
          label={STUDIES.password}
          value={password}
          autoComplete="current-password"
          onChange={(event) => setPassword(event.target.value)}
        />
        <Button type="submit" variant="contained" disabled={sign.isPending || password === ''}>
          {STUDIES.sign}
        </Button>
      </Stack>
      <Failed why={sign.error} />
    </Stack>
  );
}
