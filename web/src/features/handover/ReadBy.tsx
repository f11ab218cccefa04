import { Button, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api, type HandoverView } from '../../api/client';
import { touch } from '../../api/touches';
import { usePerson } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { HANDOVER } from '../../words/handover';
import { when } from '../../words/time';
import { Part } from './Part';

/** Who has read it; whoever has not says so here, with what stood open before them. */
export function ReadBy({ view }: { view: HandoverView }) {
  const client = useQueryClient();
  const person = usePerson();
  const confirm = useMutation({
    mutationFn: async () => {
      const open = view.open.map(({ id }) => id);
      await answered(api.POST('/api/handover/readings', { body: { shift: view.began, open } }));
      await touch(client, { kind: 'handover' });
    },
  });
  const readers = view.read_by.map(({ name, at }) => `${name}, ${when(at)}`);
  return (
    <Part title={HANDOVER.readBy}>
      <Typography {...(readers.length === 0 && { color: 'text.secondary' })}>
        {readers.length === 0 ? HANDOVER.nobodyRead : readers.join(' · ')}
      </Typography>
      <Failed why={confirm.error} />
      {!view.read_by.some((reader) => reader.person === person.id) && (
        <Button
          variant="contained"
          sx={{ mt: 1, displayPrint: 'none' }}
          disabled={confirm.isPending}
          onClick={() => confirm.mutate()}
        >
          {HANDOVER.read}
        </Button>
      )}
    </Part>
  );
}
