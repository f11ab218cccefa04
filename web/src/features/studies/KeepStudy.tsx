import { Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answered, api, type Question, type StudyView } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { STUDIES } from '../../words/studies';

/** Keeps a question with its answer: as a new study, or over the one that it was asked from. */
export function KeepStudy({ question, over }: { question: Question; over: StudyView | null }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState(over?.name ?? '');
  const [remark, setRemark] = useState(over?.remark ?? '');
  const keep = useMutation({
    mutationFn: async (as: StudyView | null) => {
      const body = { name, remark: remark.trim() === '' ? null : remark, question };
      if (as === null) return (await answered(api.POST('/api/studies', { body }))).id;
      const path = { id: as.id };
      await answered(api.PUT('/api/studies/{id}', { params: { path }, body: { version: as.version, ...body } }));
      return as.id;
    },
    onSuccess: async (id) => {
      await touch(client, { kind: 'study', study: id });
      void navigate(`/studies/${id}`);
    },
  });
  // What is kept is what one has seen; and the answer moves the form down the page when it comes.
  const seen = useQuery(queries.studyAnswer(question)).isSuccess;
  const ready = seen && !keep.isPending && name.trim() !== '';
  const changeable = over !== null && over.stage === 'kept';
  return (
    <Paper
      component="form"
      aria-label={STUDIES.keep}
      sx={{ p: 2, mt: 2, displayPrint: 'none' }}
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate(changeable ? over : null);
      }}
    >
      <Typography variant="h2" sx={{ mb: 1.5 }}>
        {STUDIES.keep}
      </Typography>
      <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', alignItems: 'flex-start' }}>
        <TextField
          label={STUDIES.name}
          value={name}
          onChange={(event) => setName(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          sx={{ flex: '1 1 240px' }}
        />
        <TextField
          label={STUDIES.remark}
          value={remark}
          multiline
          onChange={(event) => setRemark(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
          sx={{ flex: '2 1 320px' }}
        />
        <Button type="submit" variant="contained" disabled={!ready}>
          {changeable ? STUDIES.keepOver(over.name) : STUDIES.keepIt}
        </Button>
        {changeable && (
          <Button variant="outlined" disabled={!ready || name.trim() === over.name} onClick={() => keep.mutate(null)}>
            {STUDIES.keepAsNew}
          </Button>
        )}
      </Stack>
      <Failed why={keep.error} />
    </Paper>
  );
}
