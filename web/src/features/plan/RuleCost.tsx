import { Box, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useWatch } from 'react-hook-form';
import type { ChartKind, NamedRuleSet } from '../../api/client';
import { type Asked, ruleCost } from '../../api/ruleCost';
import { queries } from '../../api/queries';
import { Failed } from '../../ui/Failed';
import { RULE_COST } from '../../words/ruleCost';
import { ruleSetOf, type SetUpForm } from './form';
import { number } from './typed';

/** Charts whose points are means or single values, as the simulation draws them. */
const SIMULATED: readonly ChartKind[] = ['xbar_r', 'xbar_s', 'i_mr'];

/** The plan as it is set up first, then what another number of pieces or another interval would do. */
function plans(pieces: number, minutes: number | null) {
  const interval = minutes ?? 60;
  const others =
    minutes === null
      ? []
      : [
          { pieces, interval_minutes: interval / 2 },
          { pieces, interval_minutes: interval * 2 },
        ];
  const fewer = pieces > 2 ? [{ pieces: pieces - 2, interval_minutes: interval }] : [];
  return [
    { pieces, interval_minutes: interval },
    ...fewer,
    { pieces: pieces + 2, interval_minutes: interval },
    ...others,
  ].filter((plan) => plan.interval_minutes >= 1 && plan.interval_minutes <= 10_080 && plan.pieces <= 200);
}

/** What the chosen rules cost and see, at this sampling and at others. */
export function RuleCost({
  form: { control },
  recommended,
  sets,
}: {
  form: SetUpForm;
  recommended: ChartKind | undefined;
  sets: readonly NamedRuleSet[];
}) {
  const [chart, kind, k, pieces, every, everyCount, preset, rules] = useWatch({
    control,
    name: ['chart', 'kind', 'k', 'pieces', 'every', 'everyCount', 'preset', 'rules'],
  });
  const drawn = chart ?? recommended;
  const minutes = every === 'minutes' ? Number(everyCount) : null;
  const asked: Asked = {
    rules: ruleSetOf({ preset, rules }, sets),
    k: number(k) ?? 0,
    plans: plans(Number(pieces), minutes),
  };
  const complete =
    kind === 'measured' &&
    drawn !== undefined &&
    SIMULATED.includes(drawn) &&
    asked.k > 0 &&
    asked.plans[0]?.pieces === Number(pieces) &&
    Number.isInteger(Number(pieces)) &&
    Number(pieces) > 0 &&
    (!('list' in asked.rules) || asked.rules.list.length > 0);
  const query = useQuery({
    queryKey: queries.ruleCost(asked),
    queryFn: ({ signal }) => ruleCost(asked, signal),
    enabled: complete,
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  if (!complete) return null;
  return (
    <Box
      component="section"
      aria-label={RULE_COST.title}
      sx={{ gridColumn: '1 / -1', minWidth: 0, overflowX: 'auto', '& td': { whiteSpace: 'nowrap' } }}
    >
      <Typography variant="h3">{RULE_COST.title}</Typography>
      <Typography color="text.secondary">{RULE_COST.how(minutes !== null)}</Typography>
      {query.error && <Failed why={query.error} />}
      {query.data && (
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>{RULE_COST.sampling}</TableCell>
              <TableCell align="right">{RULE_COST.falseAlarms(minutes !== null)}</TableCell>
              {query.data.shifts.map((shift) => (
                <TableCell key={shift} align="right">
                  {RULE_COST.sees(shift)}
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {query.data.plans.map((plan, place) => (
              <TableRow key={`${plan.pieces} ${plan.interval_minutes}`}>
                <TableCell component="th" scope="row" sx={{ fontWeight: place === 0 ? 600 : 400 }}>
                  {RULE_COST.plan(plan.pieces, minutes === null ? null : plan.interval_minutes, place === 0)}
                </TableCell>
                <TableCell align="right">{RULE_COST.alarms(plan, minutes !== null)}</TableCell>
                {plan.seen.map((seen, shift) => (
                  <TableCell key={shift} align="right">
                    {RULE_COST.after(seen, minutes !== null)}
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}
