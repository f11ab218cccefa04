import { Box, Button, Stack, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type AccountView, answered, api, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { PEOPLE, ROLES } from '../../words/people';
import { AccountForm } from './AccountForm';
import type { Given } from './given';

/** An account, and what an administrator can do with it. */
export function AccountRow({ of, plan, onGiven }: { of: AccountView; plan: Plan; onGiven: (given: Given) => void }) {
  const client = useQueryClient();
  const [asked, setAsked] = useState<'nothing' | 'change' | 'close'>('nothing');
  const params = { params: { path: { id: of.id } } };
  const act = useMutation({
    mutationFn: async (deed: () => Promise<{ password: string } | undefined>) => {
      const made = await deed();
      await client.invalidateQueries({ queryKey: queries.accounts.queryKey });
      if (made) onGiven({ name: of.name, password: made.password });
    },
    onSuccess: () => setAsked('nothing'),
  });
  const button = (label: string, spoken: string, onClick: () => void) => (
    <Button color="inherit" variant="outlined" aria-label={spoken} disabled={act.isPending} onClick={onClick}>
      {label}
    </Button>
  );
  const givePassword = () => act.mutate(() => answered(api.POST('/api/accounts/{id}/password', params)));
  const takePin = () => act.mutate(() => answered(api.DELETE('/api/accounts/{id}/pin', params)));
  const endSessions = () => act.mutate(() => answered(api.DELETE('/api/accounts/{id}/sessions', params)));
  const close = () => act.mutate(() => answered(api.POST('/api/accounts/{id}/closing', params)));
  const reopen = () => act.mutate(() => answered(api.POST('/api/accounts/{id}/reopening', params)));
  return (
    <Box component="li" sx={{ py: 1.5, borderTop: 1, borderColor: 'divider', '&:first-of-type': { borderTop: 0 } }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1, minWidth: 240 }}>
          <Typography sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>
            {of.name}{' '}
            <Box component="span" sx={{ fontWeight: 400 }}>
              {ROLES[of.role]}
            </Box>
          </Typography>
          <Typography color="text.secondary" sx={{ overflowWrap: 'anywhere' }}>
            {standing(of, plan)}
          </Typography>
        </Box>
        {of.active ? (
          <>
            {button(PEOPLE.change, PEOPLE.of(of.name), () => setAsked('change'))}
            {button(PEOPLE.password, PEOPLE.passwordFor(of.name), givePassword)}
            {(of.has_pin || of.has_badge) && button(PEOPLE.pin, PEOPLE.pinOf(of.name), takePin)}
            {of.sessions > 0 && button(PEOPLE.sessions, PEOPLE.sessionsOf(of.name), endSessions)}
            {button(PEOPLE.close, PEOPLE.closeOf(of.name), () => setAsked('close'))}
          </>
        ) : (
          button(PEOPLE.reopen, PEOPLE.reopenOf(of.name), reopen)
        )}
      </Stack>
      {asked === 'close' && (
        <Box sx={{ mt: 1 }}>
          <Notice kind="caution">
            {PEOPLE.sure(of.name)}{' '}
            <Button size="small" variant="outlined" color="inherit" disabled={act.isPending} onClick={close}>
              {PEOPLE.close}
            </Button>{' '}
            <Button size="small" color="inherit" onClick={() => setAsked('nothing')}>
              {PEOPLE.leave}
            </Button>
          </Notice>
        </Box>
      )}
      {asked === 'change' && (
        <Box sx={{ mt: 1 }}>
          <AccountForm of={of} plan={plan} onGiven={onGiven} onDone={() => setAsked('nothing')} />
        </Box>
      )}
      <Failed why={act.error} />
    </Box>
  );
}

/** How they sign in, and where they belong. */
function standing(of: AccountView, plan: Plan): string {
  const names = (ids: readonly string[], among: readonly { id: string; name: string }[]) =>
    among.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
  const places = [...names(of.areas, plan.areas), ...names(of.stations, plan.stations)];
  return [
    of.login,
    places.length === 0 ? PEOPLE.everywhere : places.join(', '),
    of.bound && PEOPLE.alone,
    !of.active && PEOPLE.closed,
    of.active && of.password_is_first && PEOPLE.notYetChosen,
    of.has_pin && PEOPLE.hasPin,
    of.has_badge && PEOPLE.hasBadge,
    of.sessions > 0 && PEOPLE.signedIn(of.sessions),
  ]
    .filter(Boolean)
    .join(' · ');
}
