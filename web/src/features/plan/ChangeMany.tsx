import { Box, Button, Paper, Stack, TextField, Typography } from '@mui/material';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Characteristic, type ChartKind, Failure, type Foreseen, type Preset, type Setup } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { CHARTS, FIELDS, PRESETS, valueInWords } from '../../words/plan';
import { Choice } from './parts';
import { planSentence } from './wrong';

/** A preview is asked for when nothing was typed for so long. */
const STILL_MS = 300;

/** What can be changed of many at once. */
type What = 'rules' | 'chart' | 'minutes' | 'shown' | 'label' | 'unlabel' | 'tag' | 'reaction';

const WHAT: [What, string][] = [
  ['rules', 'Rules'], ['chart', 'Chart'], ['minutes', 'Minutes between samples'], ['shown', 'Shown or hidden'],
  ['label', 'Add a label'], ['unlabel', 'Take a label away'], ['tag', 'Ask a tag'], ['reaction', 'Add a step to the reaction plan'],
];

const FIRST: Record<What, string> = {
  rules: 'western_electric', chart: 'xbar_r', minutes: '60', shown: 'hidden', label: '', unlabel: '', tag: '', reaction: '',
};

const OPTIONS: Partial<Record<What, [string, string][]>> = {
  rules: Object.entries(PRESETS),
  chart: Object.entries(CHARTS),
  shown: [['shown', 'Shown'], ['hidden', 'Hidden']],
};

function changed(c: Characteristic, what: What, to: string): Characteristic {
  const word = to.trim();
  const adding = (list: string[]) => (list.includes(word) ? list : [...list, word]);
  switch (what) {
    case 'rules':
      return { ...c, rule_set: { preset: to as Preset } };
    case 'chart':
      return { ...c, chart: to as ChartKind };
    case 'minutes':
      return { ...c, sampling: { every: 'minutes', count: Number(to) } };
    case 'shown':
      return { ...c, hidden: to === 'hidden' };
    case 'label':
      return { ...c, labels: adding(c.labels) };
    case 'unlabel':
      return { ...c, labels: c.labels.filter((label) => label !== word) };
    case 'tag':
      return { ...c, asked_tags: adding(c.asked_tags) };
    case 'reaction':
      return { ...c, reaction_plan: [...c.reaction_plan, word] };
  }
}

/** Changes many characteristics in one respect, after showing what each would become. */
export function ChangeMany({ chosen, onDone }: { chosen: readonly Setup[]; onDone: () => void }) {
  const client = useQueryClient();
  const [what, setWhat] = useState<What>('rules');
  const [to, setTo] = useState(FIRST.rules);
  const [failure, setFailure] = useState<unknown>(null);
  const ready = what === 'minutes' ? /^\d{1,6}$/.test(to) : to.trim() !== '';
  const changes = chosen.map((c) => ({ id: c.id, version: c.version, characteristic: changed(c, what, to) }));
  const preview = useQuery({
    queryKey: ['plan-preview', changes],
    enabled: ready,
    placeholderData: keepPreviousData,
    gcTime: 0,
    queryFn: async ({ signal }) => {
      // Not with every letter: the server holds the characteristics while it tries, and savers wait behind it.
      await new Promise((resolve) => window.setTimeout(resolve, STILL_MS));
      signal.throwIfAborted();
      return answered(api.POST('/api/plan/changes/preview', { body: changes, signal }));
    },
  });
  const foreseen = ready ? (preview.data ?? []) : [];
  const refused = foreseen.filter((one) => one.refused != null).length;
  const differing = foreseen.filter((one) => one.differing != null && Object.keys(one.differing.new).length > 0);
  const apply = async () => {
    setFailure(null);
    try {
      const ids = new Set(differing.map((one) => one.id));
      await answered(api.POST('/api/plan/changes', { body: changes.filter((change) => ids.has(change.id)) }));
      await client.invalidateQueries();
      onDone();
    } catch (error) {
      setFailure(error);
    }
  };
  return (
    <Paper component="section" aria-label="Change many at once" sx={{ p: 2, mb: 2 }}>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'repeat(12, minmax(0, 1fr))', mb: 2 }}>
        <Choice label="What changes" value={what} options={WHAT} onChange={(next) => { setWhat(next); setTo(FIRST[next]); }} />
        {OPTIONS[what] ? (
          <Choice label="To" wide={8} value={to} options={OPTIONS[what]} onChange={setTo} />
        ) : (
          <TextField label="To" value={to} onChange={(event) => setTo(event.target.value)} sx={{ gridColumn: { xs: 'span 12', md: 'span 8' } }} />
        )}
      </Box>
      {(failure ?? preview.error) != null && <Notice kind="problem">{planSentence(failure ?? preview.error)}</Notice>}
      {foreseen.length > 0 && (
        <Box component="table" aria-label="What will change" sx={{ width: '100%', borderCollapse: 'collapse', '& td, & th': { textAlign: 'left', py: 0.75, pr: 2, borderTop: 1, borderColor: 'divider', verticalAlign: 'top' } }}>
          <thead>
            <tr><th scope="col">Characteristic</th><th scope="col">Now</th><th scope="col">Then</th></tr>
          </thead>
          <tbody>
            {chosen.map((c) => <Preview key={c.id} c={c} foreseen={foreseen.find((one) => one.id === c.id)} />)}
          </tbody>
        </Box>
      )}
      <Stack direction="row" spacing={1} sx={{ mt: 2, alignItems: 'center' }}>
        <Button variant="contained" disabled={differing.length === 0 || refused > 0 || preview.isFetching} onClick={() => void apply()}>
          Change {differing.length}
        </Button>
        <Button color="inherit" onClick={onDone}>Back</Button>
        {refused > 0 && <Typography color="text.secondary">All change or none: choose without those that cannot.</Typography>}
      </Stack>
    </Paper>
  );
}

function Preview({ c, foreseen }: { c: Setup; foreseen: Foreseen | undefined }) {
  if (!foreseen) return null;
  const { refused, differing } = foreseen;
  const fields = Object.keys(differing?.new ?? {});
  return (
    <tr>
      <td>{c.name} <Box component="span" sx={{ color: 'text.secondary' }}>· {c.product} · {c.station}</Box></td>
      {refused != null ? (
        <td colSpan={2}><Notice kind="problem">{planSentence(new Failure(refused.code, refused.params, refused.status))}</Notice></td>
      ) : fields.length === 0 ? (
        <td colSpan={2}>stays as it is</td>
      ) : (
        <>
          <td>{fields.map((field) => <div key={field}>{FIELDS[field]}: {valueInWords(field, differing?.old[field])}</div>)}</td>
          <td>
            {fields.map((field) => <div key={field}>{valueInWords(field, differing?.new[field])}</div>)}
            {differing?.starts_phase && <Typography color="text.secondary">A new phase starts on trial limits.</Typography>}
          </td>
        </>
      )}
    </tr>
  );
}
