import { Box, Button, Link, Typography } from '@mui/material';
import type { GridColDef } from '@mui/x-data-grid';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import type { TrailEntry } from '../../api/client';
import { queries } from '../../api/queries';
import { List } from '../../ui/List';
import { useMay } from '../../session/session';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { when } from '../../words/time';
import { DEEDS, detailInWords, TRAIL } from '../../words/trail';
import { askedOf, fileOf, type Narrow } from './narrow';

const { columns } = TRAIL;

const COLUMNS: GridColDef<TrailEntry>[] = [
  { field: 'at', headerName: columns.when, width: 170, valueFormatter: (value: string) => when(value) },
  { field: 'person', headerName: columns.who, width: 170, valueGetter: (_, row) => row.person ?? TRAIL.itself },
  { field: 'action', headerName: columns.what, width: 160, valueGetter: (_, row) => DEEDS[row.action] },
  {
    field: 'characteristic',
    headerName: columns.on,
    width: 230,
    valueGetter: (_, row) => (row.characteristic ? TRAIL.at(row.characteristic, row.station ?? '') : TRAIL.site),
  },
  {
    field: 'detail',
    headerName: columns.detail,
    flex: 1,
    minWidth: 240,
    valueGetter: (_, row) => detailInWords(row.detail),
  },
];

/** Who did what, narrowed by what the address says, page after page back to the beginning. */
export default function TrailPage() {
  const { params } = useAddress();
  const asked = askedOf(params);
  const query = useInfiniteQuery(queries.trail(asked));
  const narrowed = Object.keys(asked).length > 0;
  return (
    <Box>
      <Typography variant="h1">{TRAIL.title}</Typography>
      <Typography color="text.secondary">{TRAIL.about}</Typography>
      <Narrows />
      <Loaded query={query} what={TRAIL.trail}>
        {({ pages }) =>
          pages[0]?.length === 0 ? (
            <Empty>{narrowed ? TRAIL.nothingSuch : TRAIL.nothing}</Empty>
          ) : (
            <>
              <List
                label={TRAIL.title}
                rows={pages.flat()}
                columns={COLUMNS}
                rowId={(entry) => `${entry.chain}/${entry.position}`}
              />
              {query.hasNextPage && (
                <Button sx={{ mt: 1 }} disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
                  {TRAIL.older}
                </Button>
              )}
            </>
          )
        }
      </Loaded>
    </Box>
  );
}

function Narrows() {
  const { params, put } = useAddress();
  const people = useQuery({ ...queries.people, enabled: useMay('look') }).data;
  const characteristics = useQuery(queries.plan).data?.characteristics ?? [];
  const pick = (by: Narrow, label: string, options: readonly (readonly [string, string])[]) => (
    <Pick
      label={label}
      value={params.get(by) ?? ''}
      options={[['', TRAIL.any], ...options]}
      onPick={(to) => put({ [by]: to })}
    />
  );
  const day = (by: Narrow, label: string) => (
    <DayPick label={label} value={params.get(by) ?? ''} onPick={(to) => put({ [by]: to })} />
  );
  return (
    <Box
      component="section"
      aria-label={TRAIL.narrow}
      sx={{ display: 'flex', gap: 1.25, rowGap: 1.5, flexWrap: 'wrap', my: 1.5, alignItems: 'center' }}
    >
      {people &&
        pick(
          'person',
          TRAIL.who,
          people.map(({ id, name }) => [id, name] as const),
        )}
      {pick('action', TRAIL.what, Object.entries(DEEDS))}
      {pick(
        'characteristic',
        TRAIL.on,
        characteristics.map((c) => [c.id, TRAIL.at(c.name, c.station)] as const),
      )}
      {day('from', TRAIL.from)}
      {day('until', TRAIL.until)}
      <Link href={fileOf(askedOf(params))} download>
        {TRAIL.file}
      </Link>
    </Box>
  );
}
