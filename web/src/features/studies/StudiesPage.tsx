import { Box, Button, Link, Paper, Stack, TextField, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import type { Kind, Sort, StudyRow } from '../../api/client';
import { queries } from '../../api/queries';
import { List } from '../../ui/List';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { RULES_WEIGHED } from '../../words/rulesWeighed';
import { STUDIES } from '../../words/studies';
import { TREES } from '../../words/trees';
import { CharacteristicPick } from '../../ui/CharacteristicPick';
import { PATHS } from './questions';

/** What can be asked of each kind of data. */
const ASKED_OF: Record<Kind, readonly Sort[]> = {
  measured: ['capability', 'distribution', 'side_by_side', 'over_time', 'rule_sets'],
  nonconforming_units: ['defects', 'side_by_side', 'over_time'],
  nonconformities: ['defects', 'side_by_side', 'over_time'],
  rare_event: ['over_time'],
};

/** What was asked and kept; and the way to ask. */
export default function StudiesPage() {
  const query = useQuery(queries.studies());
  return (
    <Box sx={{ maxWidth: 1200, mx: 'auto' }}>
      <Stack direction="row" sx={{ gap: 1, mb: 1.5, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {STUDIES.title}
        </Typography>
        <Button color="inherit" component={RouterLink} to="/cause-trees">
          {TREES.title}
        </Button>
      </Stack>
      <Ask />
      <Loaded query={query} what={STUDIES.what}>
        {(studies) => (studies.length === 0 ? <Empty>{STUDIES.none}</Empty> : <Kept studies={studies} />)}
      </Loaded>
    </Box>
  );
}

function Ask() {
  const plan = useQuery(queries.plan).data;
  const [chosen, setChosen] = useState('');
  const kind = plan?.characteristics.find(({ id }) => id === chosen)?.kind;
  return (
    <Paper component="section" aria-label={STUDIES.ask} sx={{ p: 2, mb: 2 }}>
      <Typography variant="h2" sx={{ mb: 1.5 }}>
        {STUDIES.ask}
      </Typography>
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        <CharacteristicPick label={STUDIES.characteristic} value={chosen} kinds={null} onPick={setChosen} />
        {chosen === '' && <Typography color="text.secondary">{STUDIES.askHint}</Typography>}
      </Stack>
      <Box sx={{ display: 'grid', gap: 1.25, mt: 1.5, gridTemplateColumns: 'repeat(auto-fill, minmax(280px, 1fr))' }}>
        {(kind ? ASKED_OF[kind] : (['rule_sets'] as const)).map((sort) => (
          <Stack key={sort} spacing={0.5} sx={{ alignItems: 'flex-start' }}>
            <Button variant="outlined" component={RouterLink} to={askOf(sort, chosen)}>
              {STUDIES.asks[sort]}
            </Button>
            <Typography variant="body2" color="text.secondary">
              {STUDIES.asksHint[sort]}
            </Typography>
          </Stack>
        ))}
      </Box>
    </Paper>
  );
}

/** Where a question begins. */
function askOf(sort: Sort, of: string): string {
  const path = `/studies/${PATHS[sort]}`;
  if (sort === 'side_by_side') return `${path}?set1=${encodeURIComponent(`of=${of}`)}&by=week`;
  if (sort !== 'rule_sets') return `${path}?of=${of}`;
  const design = (n: number, rules: string) =>
    `design${n + 1}=${encodeURIComponent(new URLSearchParams({ name: RULES_WEIGHED.nth(n), rules, k: '3', pieces: '5', every: '60' }).toString())}`;
  const own = of === '' ? '' : `of=${of}&`;
  return `${path}?${own}${design(0, of === '' ? 'western_electric' : 'own')}&${design(1, 'limits_only')}`;
}

function Kept({ studies }: { studies: readonly StudyRow[] }) {
  const { params, put } = useAddress();
  const [search, sort] = [params.get('search') ?? '', params.get('sort') ?? ''];
  const words = search.toLowerCase();
  const holds = (study: StudyRow) =>
    (sort === '' || study.sort === sort) &&
    [study.name, study.remark ?? '', ...study.about].some((text) => text.toLowerCase().includes(words));
  const shown = studies.filter(holds);
  return (
    <>
      <Stack direction="row" sx={{ gap: 1.25, mb: 1, flexWrap: 'wrap' }}>
        <TextField
          size="small"
          fullWidth={false}
          type="search"
          label={STUDIES.search}
          value={search}
          onChange={(event) => put({ search: event.target.value }, true)}
        />
        <Pick
          label={STUDIES.columns.sort}
          value={sort}
          onPick={(value) => put({ sort: value })}
          options={[['', STUDIES.allSorts], ...Object.entries(STUDIES.sorts)]}
        />
      </Stack>
      {shown.length === 0 ? (
        <Empty>{STUDIES.noneSuch}</Empty>
      ) : (
        <List label={STUDIES.title} rows={shown} columns={COLUMNS} rowId={({ id }) => id} />
      )}
    </>
  );
}

const COLUMNS: readonly GridColDef<StudyRow>[] = [
  {
    field: 'name',
    headerName: STUDIES.columns.name,
    flex: 3,
    minWidth: 240,
    renderCell: ({ row }) => (
      <Box>
        <Link component={RouterLink} to={`/studies/${row.id}`}>
          {row.name}
        </Link>
        {row.remark != null && row.stage === 'kept' && (
          <Typography color="text.secondary" variant="body2">
            {row.remark}
          </Typography>
        )}
      </Box>
    ),
  },
  {
    field: 'sort',
    headerName: STUDIES.columns.sort,
    flex: 1,
    minWidth: 120,
    valueGetter: (_, { sort }) => STUDIES.sorts[sort],
  },
  {
    field: 'about',
    headerName: STUDIES.columns.about,
    flex: 2,
    minWidth: 160,
    valueGetter: (_, { about }) => about.join('; '),
  },
  {
    field: 'answered_at',
    headerName: STUDIES.columns.answered,
    flex: 1.3,
    minWidth: 150,
    renderCell: ({ row }) => STUDIES.answered(row.answered_at, row.answered_by),
  },
  {
    field: 'stage',
    headerName: STUDIES.columns.stage,
    flex: 1.3,
    minWidth: 140,
    valueGetter: (_, { stage, signed_by: signed }) =>
      STUDIES.stages[stage] + (signed.length > 0 ? `, ${STUDIES.signedBy(signed)}` : ''),
  },
];
