import { Box } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries';
import { DayPick } from '../../ui/DayPick';
import type { Options } from '../../ui/fields';
import { anyOf } from '../../ui/narrowing';
import { Pick } from '../../ui/Pick';
import { useAddress } from '../../ui/useAddress';
import { REPORT_KINDS, REPORTS } from '../../words/reports';
import { TRAIL } from '../../words/trail';
import { KINDS, kindOf } from './asked';

const allOr = (of?: readonly { id: string; name: string }[]) => anyOf(of, REPORTS.any);

/** What to report; the address holds it, so that it can be kept and sent. */
export function Ask() {
  const { params, put } = useAddress();
  const plan = useQuery(queries.plan).data;
  const set = (name: string, to: string) => put({ [name]: to }, true);
  const pick = (name: string, label: string, options: Options<string>) => (
    <Pick label={label} value={params.get(name) ?? ''} options={options} onPick={(to) => set(name, to)} />
  );
  const day = (name: string, label: string) => (
    <DayPick label={label} value={params.get(name) ?? ''} onPick={(to) => set(name, to)} />
  );
  return (
    <Box
      component="section"
      aria-label={REPORTS.kind}
      sx={{ display: 'flex', gap: 1.25, rowGap: 1.5, flexWrap: 'wrap', my: 1.5, alignItems: 'center' }}
    >
      <Pick
        label={REPORTS.kind}
        value={kindOf(params)}
        options={KINDS.map((kind) => [kind, REPORT_KINDS[kind]] as const)}
        onPick={(kind) => set('report', kind)}
      />
      {day('from', REPORTS.from)}
      {day('until', REPORTS.until)}
      {pick('area', REPORTS.area, allOr(plan?.areas))}
      {pick('station', REPORTS.station, allOr(plan?.stations))}
      {pick(
        'characteristic',
        REPORTS.characteristic,
        allOr(plan?.characteristics.map((c) => ({ id: c.id, name: TRAIL.at(c.name, c.station) }))),
      )}
      {pick('analyte', REPORTS.analyte, allOr(analytesOf(plan?.characteristics ?? [])))}
    </Box>
  );
}

/** The analytes of the levels there are: a level is called by its analyte and its own name. */
function analytesOf(
  characteristics: readonly { name: string; analyte?: string | null }[],
): { id: string; name: string }[] {
  const all = new Map<string, string>();
  for (const { name, analyte } of characteristics) {
    if (analyte != null && !all.has(analyte)) all.set(analyte, name.split(',')[0] ?? name);
  }
  return [...all].map(([id, name]) => ({ id, name }));
}
