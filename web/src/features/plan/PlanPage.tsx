import { Box, Button, Checkbox, Link, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { CharacteristicView, Choices, Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { chartName, samplingInWords } from '../../words/plan';
import { CAUSES } from '../../words/causes';
import { RULE_SETS } from '../../words/ruleSets';
import { LOADING, PLAN, SET_UP } from '../../words/setUpForm';
import { AddPlace } from './AddPlace';
import { ChangeMany } from './ChangeMany';
import { isMeant } from './find';

/** Everything that is set up: found by pattern, changed one at a time or many at once. */
export default function PlanPage() {
  const query = useQuery(queries.plan);
  const offered = useQuery(queries.choices);
  return (
    <Loaded query={query} what={LOADING.plan}>
      {(plan) => <Characteristics plan={plan} choices={offered.data} />}
    </Loaded>
  );
}

function Characteristics({ plan, choices }: { plan: Plan; choices: Choices | undefined }) {
  const { params, put } = useAddress();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [changing, setChanging] = useState(false);
  const find = params.get('find') ?? '';
  const done = params.get('done') === 'changed' ? 'changed' : 'set-up';
  const found = plan.characteristics.filter((c) => isMeant(c, find));
  // What is out of sight is not changed.
  const meant = found.filter((c) => chosen.has(c.id));
  const choose = (ids: readonly string[], on: boolean) =>
    setChosen((before) => new Set([...before].filter((id) => !ids.includes(id)).concat(on ? ids : [])));
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {PLAN.title}
        </Typography>
        <Button component={RouterLink} to="/plan/devices" color="inherit">
          {PLAN.devices}
        </Button>
        <Button component={RouterLink} to="/plan/rule-sets" color="inherit">
          {RULE_SETS.title}
        </Button>
        <Button component={RouterLink} to="/plan/causes" color="inherit">
          {CAUSES.title}
        </Button>
        <AddPlace kind="station" plan={plan} />
        <AddPlace kind="product" plan={plan} />
        <Button component={RouterLink} to="/plan/analytes/new" color="inherit" variant="outlined">
          {PLAN.setUpAnalyte}
        </Button>
        <Button component={RouterLink} to="/plan/characteristics/new" variant="contained">
          {SET_UP.title}
        </Button>
      </Stack>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'center', mb: 1.5, flexWrap: 'wrap' }}>
        <TextField
          label={PLAN.find}
          size="small"
          value={find}
          onChange={(event) => put({ find: event.target.value, done: null }, true)}
          helperText={PLAN.starHelp}
          sx={{ maxWidth: 380 }}
        />
        <Typography color="text.secondary" sx={{ flex: 1 }}>
          {PLAN.foundOf(found.length, plan.characteristics.length)}
        </Typography>
        <Button
          color="inherit"
          onClick={() =>
            choose(
              found.map((c) => c.id),
              meant.length < found.length,
            )
          }
          disabled={found.length === 0}
        >
          {meant.length < found.length || found.length === 0 ? PLAN.chooseAll : PLAN.chooseNone}
        </Button>
        <Button variant="outlined" disabled={meant.length === 0 || !choices} onClick={() => setChanging(true)}>
          {meant.length === 0 ? PLAN.changeMany : PLAN.changeSome(meant.length)}
        </Button>
      </Stack>
      {params.has('done') && found[0] && (
        <Notice kind="settled">
          {PLAN.done[done](found.length === 1 ? found[0].name : find)}{' '}
          {done !== 'changed' && found.length === 1 && (
            <Link component={RouterLink} to={`/rounds/${found[0].id}`}>
              {PLAN.enterSample}
            </Link>
          )}
        </Notice>
      )}
      {changing && choices && meant.length > 0 && (
        <ChangeMany chosen={meant} choices={choices} onDone={() => setChanging(false)} />
      )}
      {found.length === 0 && <Empty>{find ? PLAN.nothingFits(find) : PLAN.nothingSetUp}</Empty>}
      {found.length > 0 && (
        <Paper component="ul" aria-label={PLAN.characteristics} sx={{ m: 0, p: 0, listStyle: 'none' }}>
          {found.map((c) => (
            <Row key={c.id} c={c} chosen={chosen.has(c.id)} onChoose={(on) => choose([c.id], on)} />
          ))}
        </Paper>
      )}
    </Box>
  );
}

function Row({ c, chosen, onChoose }: { c: CharacteristicView; chosen: boolean; onChoose: (on: boolean) => void }) {
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '48px 1fr auto', md: '48px minmax(0, 1.3fr) minmax(0, 1.2fr) 120px auto' },
        alignItems: 'center',
        columnGap: 1.5,
        minHeight: 56,
        pr: 1,
        '&:not(:first-of-type)': { borderTop: 1, borderColor: 'divider' },
      }}
    >
      <Checkbox
        checked={chosen}
        onChange={(_, on) => onChoose(on)}
        slotProps={{ input: { 'aria-label': PLAN.choose(c.name, c.product, c.station) } }}
      />
      <span>
        <Link component={RouterLink} to={`/plan/characteristics/${c.id}`} sx={{ fontWeight: 600 }}>
          {c.name}
        </Link>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {' '}
          · {c.product} · {c.station}
          {c.hidden && ` · ${PLAN.hidden}`}
        </Box>
        {c.labels.length > 0 && (
          <Typography variant="body2" color="text.secondary">
            {c.labels.join(' · ')}
          </Typography>
        )}
      </span>
      <Box component="span" sx={{ display: { xs: 'none', md: 'block' }, color: 'text.secondary' }}>
        {chartName(c.chart)}
      </Box>
      <Box component="span" sx={{ display: { xs: 'none', md: 'block' }, color: 'text.secondary' }}>
        {samplingInWords(c.sampling)}
      </Box>
      <Button
        component={RouterLink}
        to={`/plan/characteristics/new?copy=${c.id}`}
        color="inherit"
        size="small"
        aria-label={PLAN.copyOf(c.name, c.product)}
      >
        {PLAN.copy}
      </Button>
    </Box>
  );
}
