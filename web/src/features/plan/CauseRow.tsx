import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { answered, api, type CauseEntry, type CauseGroup, type Plan } from '../../api/client';
import { touch } from '../../api/touches';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Pick } from '../../ui/Pick';
import { CAUSE_GROUPS, CAUSES, named } from '../../words/causes';

interface Placed {
  group: CauseGroup | null;
  area: string | null;
  state: 'in_use' | 'retired';
  same_as: string | null;
}

/** An entry of the catalogue, and what an engineer can do with it. */
export function CauseRow({ cause, all, plan }: { cause: CauseEntry; all: readonly CauseEntry[]; plan: Plan }) {
  const client = useQueryClient();
  const maySetUp = useMay('set_up');
  const [placing, setPlacing] = useState(false);
  const { id, name, version, state, proposed_by: proposedBy } = cause;
  const now = { group: cause.group ?? null, area: cause.area ?? null };
  const place = useMutation({
    mutationFn: async (body: Placed) => {
      await answered(api.PUT('/api/causes/{id}', { params: { path: { id } }, body: { ...body, version } }));
      await touch(client, { kind: 'plan' });
    },
  });
  const area = plan.areas.find((area) => area.id === cause.area)?.name ?? CAUSES.allAreas;
  const same = all.find((other) => other.id === cause.same_as);
  const act = (label: string, spoken: string, onClick: () => void) => (
    <Button color="inherit" variant="outlined" aria-label={spoken} sx={{ minHeight: 48 }} onClick={onClick}>
      {label}
    </Button>
  );
  const retire = (sameAs: string | null) => place.mutate({ ...now, state: 'retired', same_as: sameAs });
  return (
    <Box component="li" sx={{ py: 1, borderTop: 1, borderColor: 'divider', '&:first-of-type': { borderTop: 0 } }}>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
        <Box sx={{ flex: 1, minWidth: 220 }}>
          <Typography sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{name}</Typography>
          <Typography color="text.secondary">
            {[
              area,
              named(cause),
              state === 'proposed' && proposedBy != null && CAUSES.proposedBy(proposedBy),
              same && CAUSES.sameAsNow(same.name),
            ]
              .filter(Boolean)
              .join(' · ')}
          </Typography>
        </Box>
        {maySetUp && !placing && (
          <>
            {state === 'proposed' && act(CAUSES.take, CAUSES.takeOf(name), () => setPlacing(true))}
            {state === 'in_use' && act(CAUSES.change, CAUSES.changeOf(name), () => setPlacing(true))}
            {state === 'retired' && act(CAUSES.bringBack, CAUSES.bringBackOf(name), () => setPlacing(true))}
            {state === 'in_use' && act(CAUSES.retire, CAUSES.retireOf(name), () => retire(null))}
            {state === 'proposed' && (
              <Pick
                label={CAUSES.sameAs}
                value=""
                options={[
                  ['', ''],
                  ...all
                    .filter((other) => other.state === 'in_use')
                    .map(({ id, name }): [string, string] => [id, name]),
                  ['none', CAUSES.sayNone],
                ]}
                onPick={(other) => retire(other === 'none' ? null : other)}
              />
            )}
          </>
        )}
      </Stack>
      {placing && (
        <Place {...now} plan={plan} onLeave={() => setPlacing(false)}>
          {(to) => (
            <Button
              variant="contained"
              disabled={place.isPending || to.group === null}
              onClick={() => place.mutate({ ...to, state: 'in_use', same_as: null })}
            >
              {CAUSES.keep}
            </Button>
          )}
        </Place>
      )}
      <Failed why={place.error} />
    </Box>
  );
}

/** Group and area of a cause. */
function Place({
  group: groupNow,
  area: areaNow,
  plan,
  onLeave,
  children,
}: {
  group: CauseGroup | null;
  area: string | null;
  plan: Plan;
  onLeave: () => void;
  children: (to: { group: CauseGroup | null; area: string | null }) => ReactNode;
}) {
  const [group, setGroup] = useState(groupNow);
  const [area, setArea] = useState(areaNow);
  return (
    <Stack direction="row" sx={{ mt: 1, gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
      <Pick
        label={CAUSES.group}
        value={group ?? ''}
        options={Object.entries(CAUSE_GROUPS)}
        onPick={(picked) => setGroup(picked as CauseGroup)}
      />
      <Pick
        label={CAUSES.area}
        value={area ?? ''}
        options={[['', CAUSES.allAreas], ...plan.areas.map(({ id, name }): [string, string] => [id, name])]}
        onPick={(picked) => setArea(picked === '' ? null : picked)}
      />
      {children({ group, area })}
      <Button color="inherit" onClick={onLeave}>
        {CAUSES.leave}
      </Button>
    </Stack>
  );
}

/** A cause that answers can name from now on. */
export function AddCause({ plan, onDone }: { plan: Plan; onDone: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const add = useMutation({
    mutationFn: async (body: { name: string; group: CauseGroup; area: string | null }) => {
      await answered(api.POST('/api/causes', { body }));
      await touch(client, { kind: 'plan' });
    },
    onSuccess: onDone,
  });
  return (
    <Paper component="section" aria-label={CAUSES.add} sx={{ p: 2 }}>
      <TextField
        label={CAUSES.name}
        value={name}
        autoFocus
        slotProps={{ htmlInput: { maxLength: 80 } }}
        onChange={(event) => setName(event.target.value)}
      />
      <Place group={null} area={null} plan={plan} onLeave={onDone}>
        {({ group, area }) => (
          <Button
            variant="contained"
            disabled={add.isPending || group === null || name.trim() === ''}
            onClick={() => group && add.mutate({ name: name.trim(), group, area })}
          >
            {CAUSES.keep}
          </Button>
        )}
      </Place>
      <Failed why={add.error} />
    </Paper>
  );
}
