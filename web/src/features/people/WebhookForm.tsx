import { Box, Button, Paper, Stack } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useForm, useWatch } from 'react-hook-form';
import { answered, api, type NoticeKind, type Plan, type Webhook, type WebhookView } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { Select, TextInput, Tick } from '../../ui/fields';
import { NOTICE_KINDS, WEBHOOKS } from '../../words/notices';

/** A webhook as it shall be. */
export function WebhookForm({
  of,
  plan,
  onMade,
  onDone,
}: {
  of?: WebhookView;
  plan: Plan;
  /** Told of the secret of a new one. */
  onMade?: (made: { name: string; secret: string }) => void;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const kinds: NoticeKind[] = of?.kinds ?? ['open_too_long'];
  const { control, handleSubmit } = useForm({
    defaultValues: {
      name: of?.name ?? '',
      url: of?.url ?? '',
      kinds,
      areas: of?.areas ?? [],
      active: of?.active ?? true,
    },
  });
  const [name, url] = useWatch({ control, name: ['name', 'url'] });
  const keep = useMutation({
    mutationFn: async (webhook: Webhook) => {
      if (of) {
        const params = { params: { path: { id: of.id } } };
        await answered(api.PUT('/api/webhooks/{id}', { ...params, body: { version: of.version, webhook } }));
      } else {
        const { secret } = await answered(api.POST('/api/webhooks', { body: webhook }));
        onMade?.({ name: webhook.name, secret });
      }
      await client.invalidateQueries({ queryKey: queries.webhooks.queryKey });
    },
    onSuccess: onDone,
  });
  const submit = handleSubmit((given) => keep.mutate(given));
  return (
    <Paper component="section" aria-label={of ? WEBHOOKS.of(of.name) : WEBHOOKS.add} sx={{ p: 2 }}>
      <Stack component="form" noValidate spacing={2} onSubmit={(event) => void submit(event)}>
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
          <TextInput control={control} name="name" label={WEBHOOKS.name} longest={80} autoFocus />
          <TextInput control={control} name="url" label={WEBHOOKS.url} longest={2000} />
          <Select
            control={control}
            name="kinds"
            label={WEBHOOKS.kinds}
            several
            options={Object.entries(NOTICE_KINDS)}
          />
          <Select
            control={control}
            name="areas"
            label={WEBHOOKS.areas}
            several
            options={plan.areas.map(({ id, name }) => [id, name] as const)}
          />
        </Box>
        <Tick control={control} name="active" label={WEBHOOKS.active} />
        <Failed why={keep.error} />
        <Stack direction="row" sx={{ gap: 1 }}>
          <Button
            type="submit"
            variant="contained"
            disabled={keep.isPending || name.trim() === '' || url.trim() === ''}
          >
            {WEBHOOKS.keep}
          </Button>
          <Button color="inherit" onClick={onDone}>
            {WEBHOOKS.leave}
          </Button>
        </Stack>
      </Stack>
    </Paper>
  );
}
