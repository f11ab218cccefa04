import { Box, Button, Paper, Stack, Typography } from '@mui/material';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useForm, useWatch } from 'react-hook-form';
import {
  answered,
  api,
  type Characteristic,
  type CharacteristicView,
  type ChartKind,
  type Choices,
  type Foreseen,
  type NamedRuleSet,
  type Preset,
} from '../../api/client';
import { Failure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { type Options, Select, TextInput } from '../../ui/fields';
import { chartName, FIELDS, PRESETS, valueInWords } from '../../words/plan';
import { CHANGE_MANY, SHOWN } from '../../words/setUpForm';
import { whyNot } from '../../words/setUp';
import { namedBy, namedOptions, rulesOf } from './namedRules';
import { span } from './parts';

/** A preview is asked for when nothing was typed for so long. */
const STILL_MS = 300;

/** What can be changed of many at once. */
type What = keyof typeof CHANGE_MANY.what;

interface Change {
  what: What;
  to: string;
}

/** What stands there when one begins. */
const FIRST: Record<What, string> = {
  rules: 'western_electric',
  chart: 'xbar_r',
  minutes: '60',
  shown: 'hidden',
  label: '',
  unlabel: '',
  tag: '',
  reaction: '',
};

/** What can be chosen; nothing where it is typed. */
function optionsOf(what: What, { kinds }: Choices, sets: readonly NamedRuleSet[]): Options<string> | null {
  switch (what) {
    case 'rules':
      return [...Object.entries(PRESETS), ...namedOptions(sets, '')];
    case 'chart':
      return kinds.flatMap(({ charts }) => charts.map((chart) => [chart, chartName(chart)] as const));
    case 'shown':
      return Object.entries(SHOWN);
    default:
      return null;
  }
}

function changed(c: Characteristic, what: What, to: string, sets: readonly NamedRuleSet[]): Characteristic {
  const word = to.trim();
  const adding = (list: string[]) => (list.includes(word) ? list : [...list, word]);
  switch (what) {
    case 'rules': {
      const list = rulesOf(sets, to);
      return { ...c, named_rules: namedBy(to), rule_set: list ? { list: [...list] } : { preset: to as Preset } };
    }
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

/** What each of them would become. */
function useForeseen(
  changes: readonly { id: string; version: number; characteristic: Characteristic }[],
  ready: boolean,
) {
  return useQuery({
    queryKey: queries.planPreview(changes),
    enabled: ready,
    placeholderData: keepPreviousData,
    gcTime: 0,
    queryFn: async ({ signal }) => {
      // Not with every letter: the server holds the characteristics while it tries, and savers wait behind it.
      await new Promise((resolve) => window.setTimeout(resolve, STILL_MS));
      signal.throwIfAborted();
      return answered(api.POST('/api/plan/changes/preview', { body: [...changes], signal }));
    },
  });
}

/** Changes many characteristics in one respect, after showing what each would become. */
export function ChangeMany({
  chosen,
  choices,
  onDone,
}: {
  chosen: readonly CharacteristicView[];
  choices: Choices;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const { control, getValues, setValue } = useForm<Change>({ defaultValues: { what: 'rules', to: FIRST.rules } });
  const [what, to] = useWatch({ control, name: ['what', 'to'] });
  const sets = useQuery(queries.ruleSets).data ?? [];
  const ready = what === 'minutes' ? /^\d{1,6}$/.test(to) : to.trim() !== '';
  const changes = chosen.map((c) => ({ id: c.id, version: c.version, characteristic: changed(c, what, to, sets) }));
  const preview = useForeseen(changes, ready);
  const foreseen = ready ? (preview.data ?? []) : [];
  const refused = foreseen.filter((one) => one.refused != null).length;
  const differing = foreseen.filter((one) => one.differing != null && Object.keys(one.differing.new).length > 0);
  const apply = useMutation({
    mutationFn: async () => {
      const ids = new Set(differing.map((one) => one.id));
      await answered(api.POST('/api/plan/changes', { body: changes.filter((change) => ids.has(change.id)) }));
      await touch(client, { kind: 'plan' });
      onDone();
    },
  });
  const options = optionsOf(what, choices, sets);
  return (
    <Paper component="section" aria-label={CHANGE_MANY.title} sx={{ p: 2, mb: 2 }}>
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'repeat(12, minmax(0, 1fr))', mb: 2 }}>
        <Select
          control={control}
          name="what"
          label={CHANGE_MANY.whatChanges}
          options={Object.entries(CHANGE_MANY.what)}
          onPick={() => setValue('to', FIRST[getValues('what')])}
          sx={span(4)}
        />
        {options ? (
          <Select control={control} name="to" label={CHANGE_MANY.to} options={options} sx={span(8)} />
        ) : (
          <TextInput control={control} name="to" label={CHANGE_MANY.to} sx={span(8)} />
        )}
      </Box>
      <Failed why={apply.error ?? preview.error} say={whyNot} />
      {foreseen.length > 0 && (
        <Box
          component="table"
          aria-label={CHANGE_MANY.whatWillChange}
          sx={{
            width: '100%',
            borderCollapse: 'collapse',
            '& td, & th': {
              textAlign: 'left',
              py: 0.75,
              pr: 2,
              borderTop: 1,
              borderColor: 'divider',
              verticalAlign: 'top',
            },
          }}
        >
          <thead>
            <tr>
              <th scope="col">{CHANGE_MANY.characteristic}</th>
              <th scope="col">{CHANGE_MANY.now}</th>
              <th scope="col">{CHANGE_MANY.then}</th>
            </tr>
          </thead>
          <tbody>
            {chosen.map((c) => (
              <Preview key={c.id} c={c} foreseen={foreseen.find((one) => one.id === c.id)} />
            ))}
          </tbody>
        </Box>
      )}
      <Stack direction="row" spacing={1} sx={{ mt: 2, alignItems: 'center' }}>
        <Button
          variant="contained"
          disabled={differing.length === 0 || refused > 0 || preview.isFetching || apply.isPending}
          onClick={() => apply.mutate()}
        >
          {CHANGE_MANY.change(differing.length)}
        </Button>
        <Button color="inherit" onClick={onDone}>
          {CHANGE_MANY.back}
        </Button>
        {refused > 0 && <Typography color="text.secondary">{CHANGE_MANY.allOrNone}</Typography>}
      </Stack>
    </Paper>
  );
}

function Preview({ c, foreseen }: { c: CharacteristicView; foreseen: Foreseen | undefined }) {
  if (!foreseen) return null;
  const { refused, differing } = foreseen;
  const fields = Object.keys(differing?.new ?? {});
  return (
    <tr>
      <td>
        {c.name}{' '}
        <Box component="span" sx={{ color: 'text.secondary' }}>
          · {c.product} · {c.station}
        </Box>
      </td>
      {refused != null ? (
        <td colSpan={2}>
          <Failed why={new Failure(refused, refused.status)} say={whyNot} />
        </td>
      ) : fields.length === 0 ? (
        <td colSpan={2}>{CHANGE_MANY.stays}</td>
      ) : (
        <>
          <td>
            {fields.map((field) => (
              <div key={field}>
                {FIELDS[field]}: {valueInWords(field, differing?.old[field])}
              </div>
            ))}
          </td>
          <td>
            {fields.map((field) => (
              <div key={field}>{valueInWords(field, differing?.new[field])}</div>
            ))}
            {differing?.starts_phase && <Typography color="text.secondary">{CHANGE_MANY.newPhase}</Typography>}
          </td>
        </>
      )}
    </tr>
  );
}
