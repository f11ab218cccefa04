import { Box, Button, Link, Stack, Typography } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link as RouterLink, useNavigate, useParams, useSearchParams } from 'react-router';
import { answered, api, type CharacteristicView, type Choices, type Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Select, Tick } from '../../ui/fields';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { LOADING, SET_UP } from '../../words/setUpForm';
import { setUpSentence, wrongFields } from '../../words/setUp';
import { Chooser, useRecommendation } from './Chooser';
import { blankFields, characteristicOf, type Fields, FIELDS_OF, fieldsOf, ORDER, wordsOf } from './form';
import { proposedFields } from './proposed';
import { OptionsPart } from './OptionsPart';
import { Choice, Part, span, Text, Words } from './parts';
import { readable } from './readable';
import { RulesPart } from './RulesPart';
import { ValuesPart } from './ValuesPart';

/** Sets a characteristic up, or changes how it is set up. */
export default function CharacteristicPage() {
  const { id } = useParams();
  const [params] = useSearchParams();
  const query = useQuery(queries.plan);
  const offered = useQuery(queries.choices);
  const wanted = id ?? params.get('copy');
  return (
    <Loaded query={query} what={LOADING.plan}>
      {(plan) => (
        <Loaded query={offered} what={LOADING.rules}>
          {(choices) => {
            const known = plan.characteristics.find((c) => c.id === wanted);
            if (wanted !== null && !known) return <Empty>{SET_UP.gone}</Empty>;
            if (plan.stations.length === 0 || plan.products.length === 0) return <Empty>{SET_UP.needsPlaces}</Empty>;
            return (
              <Form key={wanted ?? 'new'} plan={plan} choices={choices} known={known} changing={id !== undefined} />
            );
          }}
        </Loaded>
      )}
    </Loaded>
  );
}

/** What was typed before the page was loaded again; fields that had another form in an older page are left out. */
function loadFields(kept: string, first: Fields): Partial<Fields> {
  try {
    const fields: unknown = JSON.parse(sessionStorage.getItem(kept) ?? '{}');
    if (typeof fields !== 'object' || fields === null) return {};
    const alike = ([name, value]: [string, unknown]) => {
      const now = first[name as keyof Fields];
      return now === null || (typeof value === typeof now && Array.isArray(value) === Array.isArray(now));
    };
    return Object.fromEntries(Object.entries(fields).filter(alike));
  } catch {
    return {};
  }
}

function start(
  plan: Plan,
  choices: Choices,
  known: CharacteristicView | undefined,
  changing: boolean,
  proposed: Partial<Fields>,
): Fields {
  if (!known) return { ...blankFields(choices.rules, plan.stations[0]?.id, plan.products[0]?.id), ...proposed };
  const fields = fieldsOf(known, choices.rules, known.station_id, known.product_id);
  return changing ? fields : { ...fields, name: SET_UP.copyOf(known.name) };
}

/** The page that asked for a new one, which goes on with it. */
function backTo(params: URLSearchParams): string | null {
  const back = params.get('back');
  return back !== null && /^\/data\/files\/[0-9a-f-]+$/.test(back) ? back : null;
}

/** A form that is there again, as it was typed, after the page was loaded again. */
function useKeptForm(kept: string, first: Fields) {
  const [values] = useState(() => ({ ...first, ...loadFields(kept, first) }));
  const form = useForm<Fields>({
    defaultValues: first,
    values,
    resetOptions: { keepDefaultValues: true },
    resolver: readable,
  });
  const { subscribe } = form;
  useEffect(() => {
    // What is as it was at first need not be kept.
    const untouched = JSON.stringify(first);
    return subscribe({
      formState: { values: true },
      callback: ({ values }) => {
        const text = JSON.stringify(values);
        if (text === untouched) sessionStorage.removeItem(kept);
        else sessionStorage.setItem(kept, text);
      },
    });
  }, [subscribe, first, kept]);
  return form;
}

function Form({
  plan,
  choices,
  known,
  changing,
}: {
  plan: Plan;
  choices: Choices;
  known: CharacteristicView | undefined;
  changing: boolean;
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  // Others may change it meanwhile; what is typed here is measured against what was seen.
  const [seen] = useState(changing ? known : undefined);
  const kept = `nuvek.setup.${changing ? (known?.id ?? '') : `new.${known?.id ?? ''}`}`;
  const [params] = useSearchParams();
  const [first] = useState(() => start(plan, choices, known, changing, proposedFields(params, choices.letters_taken)));
  const form = useKeptForm(kept, first);
  const found = useRecommendation(form, seen?.id ?? null);
  const eventKinds = useQuery(queries.eventKinds);
  const words = useMemo(() => wordsOf(plan), [plan]);
  const {
    handleSubmit,
    setError,
    formState: { errors },
  } = form;
  const save = useMutation({
    mutationFn: async ({ f, chart }: { f: Fields; chart: NonNullable<Fields['chart']> }) => {
      // What was named a moment ago counts too.
      const sets = await client.query({ ...queries.ruleSets, staleTime: 'static' });
      const characteristic = characteristicOf(f, chart, sets);
      const made = seen
        ? null
        : await answered(
            api.POST('/api/plan/characteristics', { body: { station: f.station, product: f.product, characteristic } }),
          );
      if (seen)
        await answered(
          api.POST('/api/plan/changes', { body: [{ id: seen.id, version: seen.version, characteristic }] }),
        );
      await touch(client, { kind: 'plan' });
      sessionStorage.removeItem(kept);
      const back = backTo(params);
      if (made && back !== null) return navigate(`${back}?into=${made.id}`);
      return navigate(`/plan?find=${encodeURIComponent(characteristic.name)}&done=${seen ? 'changed' : 'set-up'}`);
    },
    onError: (error) => {
      const wrong = Object.entries(wrongFields(error)).flatMap(([field, message]) =>
        (FIELDS_OF[field] ?? []).map((name) => ({ name, message })),
      );
      // The first as the form has them, not as the server names them.
      const first = ORDER.find((name) => wrong.some((one) => one.name === name));
      for (const { name, message } of wrong) setError(name, { message }, { shouldFocus: name === first });
    },
  });
  const submit = handleSubmit((f) => {
    const chart = f.chart ?? found?.chart;
    if (chart !== undefined) save.mutate({ f, chart });
  });
  return (
    <Box
      component="form"
      noValidate
      sx={{ maxWidth: 980, mx: 'auto' }}
      onSubmit={(event) => {
        save.reset();
        void submit(event);
      }}
    >
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {seen ? seen.name : SET_UP.title}
        </Typography>
        <Link component={RouterLink} to="/plan">
          {SET_UP.back}
        </Link>
      </Stack>
      <Stack spacing={2}>
        <Part title={SET_UP.whatAndWhere}>
          <Text form={form} name="name" label={SET_UP.name} wide={12} />
          {seen ? (
            <Typography color="text.secondary" sx={{ gridColumn: '1 / -1' }}>
              {seen.product} · {seen.station}
            </Typography>
          ) : (
            <>
              <Choice
                form={form}
                name="station"
                label={SET_UP.station}
                wide={6}
                options={plan.stations.map((s) => [s.id, s.name])}
              />
              <Choice
                form={form}
                name="product"
                label={SET_UP.product}
                wide={6}
                options={plan.products.map((p) => [p.id, p.name])}
              />
            </>
          )}
        </Part>
        <Chooser form={form} found={found} />
        <OptionsPart form={form} recommended={found?.chart} />
        <ValuesPart form={form} lettersTaken={choices.letters_taken} components={words.components} />
        <RulesPart form={form} recommended={found?.chart} characteristic={seen?.id} />
        <Part title={SET_UP.askedAndFound}>
          <Words form={form} name="tags" label={SET_UP.tags} help={SET_UP.suchAsLot} wide={6} known={words.tags} />
          <Words
            form={form}
            name="labels"
            label={SET_UP.labels}
            help={SET_UP.wordsToFind}
            wide={6}
            known={words.labels}
          />
          <Select
            control={form.control}
            name="phaseEvents"
            several
            label={SET_UP.phaseEvents}
            help={SET_UP.phaseEventsHelp}
            options={(eventKinds.data ?? []).map((kind) => [kind.id, kind.name])}
            sx={span(12)}
          />
          <Tick control={form.control} name="hidden" label={SET_UP.hidden} sx={{ gridColumn: '1 / -1' }} />
        </Part>
        <Failed why={save.error} say={setUpSentence} />
        {Object.keys(errors).length > 0 && save.error === null && <Notice kind="problem">{SET_UP.anotherLook}</Notice>}
        <Button
          type="submit"
          variant="contained"
          size="large"
          disabled={save.isPending}
          sx={{ alignSelf: 'start', minHeight: 52 }}
        >
          {seen ? SET_UP.saveChange : SET_UP.setUp}
        </Button>
      </Stack>
    </Box>
  );
}
