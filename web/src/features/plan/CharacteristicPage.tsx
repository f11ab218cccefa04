import { Box, Button, Checkbox, FormControlLabel, Link, Stack, Typography } from '@mui/material';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams, useSearchParams } from 'react-router';
import { answered, api, type Plan, type Setup } from '../../api/client';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { Chooser, useRecommendation } from './Chooser';
import { blankFields, characteristicOf, type Fields, fieldsOf, notNumbers } from './form';
import { Choice, type FormPart, Part, Text } from './parts';
import { planQuery } from './planQuery';
import { RulesPart } from './RulesPart';
import { ValuesPart } from './ValuesPart';
import { planSentence, wrongFields } from './wrong';

/** Sets a characteristic up, or changes how it is set up. */
export default function CharacteristicPage() {
  const { id } = useParams();
  const [params] = useSearchParams();
  const query = useQuery(planQuery);
  const copied = params.get('copy');
  return (
    <Loaded query={query} what="the plan">
      {(plan) => {
        const wanted = id ?? copied;
        const known = plan.characteristics.find((c) => c.id === wanted);
        if (wanted != null && !known) return <Empty>There is no such characteristic any more.</Empty>;
        return <Form key={wanted ?? 'new'} plan={plan} known={known} changing={id !== undefined} />;
      }}
    </Loaded>
  );
}

/** What was typed before the page was loaded again. */
function loadFields(kept: string): Partial<Fields> {
  try {
    const fields: unknown = JSON.parse(sessionStorage.getItem(kept) ?? '{}');
    return typeof fields === 'object' && fields !== null ? fields : {};
  } catch {
    return {};
  }
}

function start(plan: Plan, known: Setup | undefined, changing: boolean): Fields {
  if (!known) return blankFields(plan.stations[0]?.id, plan.products[0]?.id);
  const fields = fieldsOf(known, known.station_id, known.product_id);
  return changing ? fields : { ...fields, name: `${known.name}, copy` };
}

function Form({ plan, known, changing }: { plan: Plan; known: Setup | undefined; changing: boolean }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  // Others may change it meanwhile; what is typed here is measured against what was seen.
  const [seen] = useState(known);
  const kept = `nuvek.setup.${changing ? (known?.id ?? '') : `new.${known?.id ?? ''}`}`;
  const [f, setFields] = useState<Fields>(() => ({ ...start(plan, known, changing), ...loadFields(kept) }));
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [failure, setFailure] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const found = useRecommendation(f, changing ? (seen?.id ?? null) : null);
  const part: FormPart = useMemo(() => ({ f, wrong, set: (change) => setFields((before) => ({ ...before, ...change })) }), [f, wrong]);
  // What was typed is there again after a reload; what is as it was at first need not be kept.
  const [first] = useState(() => JSON.stringify(start(plan, known, changing)));
  useEffect(() => {
    const text = JSON.stringify(f);
    if (text === first) sessionStorage.removeItem(kept);
    else sessionStorage.setItem(kept, text);
  }, [f, first, kept]);

  const save = async () => {
    setFailure(null);
    const unreadable = Object.fromEntries(notNumbers(f).map((field) => [field, 'A number is needed.']));
    if (f.kind !== 'measured' && f.kindBegun.trim() !== '') unreadable.defect_kinds = `“${f.kindBegun.trim()}” is typed and not added. Add the kind, or clear its field.`;
    setWrong(unreadable);
    const chart = f.chart ?? found?.chart;
    if (Object.keys(unreadable).length > 0 || chart === undefined) return;
    const characteristic = characteristicOf(f, chart);
    setBusy(true);
    try {
      if (changing && seen) {
        await answered(api.POST('/api/plan/changes', { body: [{ id: seen.id, version: seen.version, characteristic }] }));
      } else {
        await answered(api.POST('/api/plan/characteristics', { body: { station: f.station, product: f.product, characteristic } }));
      }
      await client.invalidateQueries();
      sessionStorage.removeItem(kept);
      void navigate(`/plan?find=${encodeURIComponent(characteristic.name)}&done=${changing ? 'changed' : 'set-up'}`);
    } catch (error) {
      setWrong(wrongFields(error));
      setFailure(error);
    } finally {
      setBusy(false);
    }
  };

  return (
    <Box component="form" noValidate sx={{ maxWidth: 980, mx: 'auto' }} onSubmit={(event) => { event.preventDefault(); void save(); }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>{changing && seen ? seen.name : 'Set up a characteristic'}</Typography>
        <Link component={RouterLink} to="/plan">Back to the plan</Link>
      </Stack>
      {plan.stations.length === 0 || plan.products.length === 0 ? (
        <Empty>A characteristic needs a station and a product. Add them in the plan first.</Empty>
      ) : (
        <Stack spacing={2}>
          <Part title="What and where">
            <Text part={part} name="name" field="name" label="Name" wide={12} />
            {changing ? (
              <Typography color="text.secondary" sx={{ gridColumn: '1 / -1' }}>{seen?.product} · {seen?.station}</Typography>
            ) : (
              <>
                <Choice label="Station" wide={6} value={f.station} options={plan.stations.map((s) => [s.id, s.name] as const)} onChange={(station) => part.set({ station })} />
                <Choice label="Product" wide={6} value={f.product} options={plan.products.map((p) => [p.id, p.name] as const)} onChange={(product) => part.set({ product })} />
              </>
            )}
          </Part>
          <Chooser part={part} found={found} />
          <ValuesPart part={part} />
          <RulesPart part={part} />
          <Part title="Asked and found">
            <Text part={part} name="tags" field="asked_tags" label="Tags asked with each sample, with commas" help="Such as lot, mould. The shift is known from the calendar." wide={6} />
            <Text part={part} name="labels" field="labels" label="Labels, with commas" help="Words to find it by." wide={6} />
            <FormControlLabel
              sx={{ gridColumn: '1 / -1' }}
              control={<Checkbox checked={f.hidden} onChange={(_, hidden) => part.set({ hidden })} />}
              label="Hidden: left out of Rounds and Charts"
            />
          </Part>
          {failure != null && <Notice kind="problem">{planSentence(failure)}</Notice>}
          {Object.keys(wrong).length > 0 && failure == null && <Notice kind="problem">Some fields need another look; each says why.</Notice>}
          <Button type="submit" variant="contained" size="large" disabled={busy} sx={{ alignSelf: 'start', minHeight: 52 }}>
            {changing ? 'Save the change' : 'Set it up'}
          </Button>
        </Stack>
      )}
    </Box>
  );
}
