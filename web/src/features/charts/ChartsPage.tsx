import { Box, Link, Paper, Stack, TextField, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { Link as RouterLink, useSearchParams } from 'react-router';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Empty, Loaded } from '../../ui/States';
import { CHARTS_LIST, openEpisodes } from '../../words/charts';
import { LOOK } from '../../words/look';

export function ChartsPage() {
  const [params, setParams] = useSearchParams();
  const wanted = params.get('find') ?? '';
  const query = useQuery(queries.rounds);
  const mayLimit = useMay('set_limits');
  const toLookAt = useQuery({ ...queries.toLookAt, enabled: mayLimit });
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Stack direction="row" sx={{ gap: 3, alignItems: 'center', mb: 2, flexWrap: 'wrap' }}>
        <Typography variant="h1">{CHARTS_LIST.title}</Typography>
        <TextField
          label={CHARTS_LIST.find}
          size="small"
          value={wanted}
          onChange={(event) => setParams(event.target.value ? { find: event.target.value } : {}, { replace: true })}
          sx={{ maxWidth: 340 }}
        />
        {mayLimit && (
          <Link component={RouterLink} to="/charts/limits-to-look-at">
            {LOOK.toList}
            {toLookAt.data && toLookAt.data.length > 0 && ` (${toLookAt.data.length})`}
          </Link>
        )}
      </Stack>
      <Loaded query={query} what={CHARTS_LIST.charts}>
        {(stations) => {
          const charts = stations
            .flatMap((station) => station.characteristics.map((c) => ({ ...c, station: station.name })))
            .filter((c) => `${c.name} ${c.product} ${c.station}`.toLowerCase().includes(wanted.toLowerCase()));
          if (charts.length === 0)
            return <Empty>{wanted ? CHARTS_LIST.nothingFits(wanted) : CHARTS_LIST.nothingSetUp}</Empty>;
          return (
            <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(300px, 1fr))', gap: 1.5 }}>
              {charts.map((c) => (
                <Paper key={c.id}>
                  <Link
                    component={RouterLink}
                    to={`/charts/${c.id}`}
                    underline="none"
                    sx={{ display: 'block', p: 2, color: 'text.primary', '&:hover': { bgcolor: 'action.hover' } }}
                  >
                    <Typography variant="h2">{c.name}</Typography>
                    <Typography color="text.secondary">
                      {c.product} · {c.station}
                    </Typography>
                    <Typography color="text.secondary">
                      {c.last_taken_at ? CHARTS_LIST.lastSample(c.last_taken_at) : CHARTS_LIST.noSample}
                    </Typography>
                    {c.open_episodes > 0 && (
                      <Typography sx={{ color: 'error.main' }}>
                        <span aria-hidden>▬ </span>
                        {openEpisodes(c.open_episodes)}
                      </Typography>
                    )}
                  </Link>
                </Paper>
              ))}
            </Box>
          );
        }}
      </Loaded>
    </Box>
  );
}
