import {
  Box,
  Button,
  Link,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link as RouterLink } from 'react-router';
import type { LimitsView, PhaseRow, Statistic } from '../../api/client';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { TextInput } from '../../ui/fields';
import { LIMITS_STATES, PHASES, PUT_IN_FORCE } from '../../words/limits';
import { figure } from '../../words/numbers';
import { panelFigure } from '../../words/signals';
import { useLimitsChange } from '../points';
import { useSampleByNumber } from './sampleByNumber';

/** What the centre of each kind of data is one of. */
const LOCATION: Record<LimitsView['characteristic']['kind'], Statistic> = {
  measured: 'mean',
  nonconforming_units: 'proportion',
  nonconformities: 'rate',
  rare_event: 'value',
};

/** All phases in a table of figures, and what can be done to each. */
export function Phases({ view, shown }: { view: LimitsView; shown: string | undefined }) {
  const mayLimit = useMay('set_limits');
  const [editing, setEditing] = useState<{ phase: string; what: 'name' | 'start' } | null>(null);
  const change = useLimitsChange(view.characteristic.id);
  const { decimals, kind } = view.characteristic;
  const location = LOCATION[kind];
  const edited = view.phases.find((phase) => phase.id === editing?.phase);
  return (
    <Paper component="section" aria-label={PHASES.title} sx={{ p: 2, mt: 2, overflowX: 'auto' }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {PHASES.title}
      </Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>{PHASES.columns.name}</TableCell>
            <TableCell>{PHASES.columns.since}</TableCell>
            <TableCell>{PHASES.columns.state}</TableCell>
            <TableCell align="right">{PHASES.columns.centre}</TableCell>
            <TableCell align="right">{PHASES.columns.sigma}</TableCell>
            <TableCell align="right">{PHASES.columns.points}</TableCell>
            <TableCell align="right">{PHASES.columns.aside}</TableCell>
            <TableCell align="right">{PHASES.columns.signals}</TableCell>
            {mayLimit && <TableCell align="right">{PHASES.columns.change}</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {view.phases.map((phase, place) => (
            <TableRow key={phase.id} selected={phase.id === shown}>
              <TableCell component="th" scope="row">
                <Link component={RouterLink} to={`?phase=${phase.id}`} aria-label={`${PHASES.look} ${phase.name}`}>
                  {phase.name}
                </Link>
              </TableCell>
              <TableCell>{PHASES.since(phase.first_number, phase.starts_at)}</TableCell>
              <TableCell>{LIMITS_STATES[phase.state]}</TableCell>
              <TableCell align="right">{panelFigure(location, phase.figures?.center, decimals)}</TableCell>
              <TableCell align="right">{figure(phase.figures?.sigma, decimals + 2)}</TableCell>
              <TableCell align="right">{phase.points}</TableCell>
              <TableCell align="right">{phase.aside}</TableCell>
              <TableCell align="right">{phase.signals}</TableCell>
              {mayLimit && (
                <TableCell>
                  <Stack direction="row" sx={{ gap: 0.5, flexWrap: 'wrap', justifyContent: 'flex-end' }}>
                    <Button size="small" color="inherit" onClick={() => setEditing({ phase: phase.id, what: 'name' })}>
                      {PHASES.rename}
                    </Button>
                    {place > 0 && (
                      <>
                        <Button
                          size="small"
                          color="inherit"
                          onClick={() => setEditing({ phase: phase.id, what: 'start' })}
                        >
                          {PHASES.move}
                        </Button>
                        <Button
                          size="small"
                          color="inherit"
                          disabled={change.isPending}
                          onClick={() => change.mutate({ change: 'merge', phase: phase.id })}
                        >
                          {PHASES.merge}
                        </Button>
                      </>
                    )}
                  </Stack>
                </TableCell>
              )}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Failed why={change.error} />
      {editing && edited && (
        <Box sx={{ mt: 1.5 }}>
          <Edit
            key={`${editing.phase} ${editing.what}`}
            view={view}
            phase={edited}
            what={editing.what}
            onDone={() => setEditing(null)}
          />
        </Box>
      )}
    </Paper>
  );
}

/** Another name, or another start, of a phase. */
function Edit({
  view,
  phase,
  what,
  onDone,
}: {
  view: LimitsView;
  phase: PhaseRow;
  what: 'name' | 'start';
  onDone: () => void;
}) {
  const change = useLimitsChange(view.characteristic.id);
  // A start may lie in the phase before.
  const askSamples = useSampleByNumber(view.characteristic.id);
  const move = useMutation({
    mutationFn: async (typed: string) => (await askSamples())(typed),
    onSuccess: (sample) => {
      if (sample === undefined) setError('value', { message: PUT_IN_FORCE.noSuchSample }, { shouldFocus: true });
      else change.mutate({ change: 'move_start', phase: phase.id, sample }, { onSuccess: onDone });
    },
  });
  const isName = what === 'name';
  const { control, handleSubmit, setError } = useForm({
    defaultValues: { value: isName ? phase.name : String(phase.first_number ?? '') },
  });
  const submit = handleSubmit(({ value }) => {
    const typed = value.trim();
    if (!isName) move.mutate(typed);
    else if (typed === '') setError('value', { message: PUT_IN_FORCE.sayName }, { shouldFocus: true });
    else change.mutate({ change: 'rename', phase: phase.id, name: typed }, { onSuccess: onDone });
  });
  return (
    <Box component="form" noValidate aria-label={phase.name} onSubmit={(event) => void submit(event)}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-start', maxWidth: 620 }}>
        <TextInput
          control={control}
          name="value"
          label={isName ? PHASES.newName : PHASES.newStart}
          autoFocus
          size="small"
          sx={{ flex: 1 }}
        />
        <Button type="submit" variant="contained" disabled={move.isPending || change.isPending}>
          {PHASES.save}
        </Button>
        <Button color="inherit" onClick={onDone}>
          {PHASES.back}
        </Button>
      </Stack>
      <Failed why={move.error ?? change.error} />
    </Box>
  );
}
