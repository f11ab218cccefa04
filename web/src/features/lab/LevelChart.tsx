import { Box, Link, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import type { Level } from '../../api/client';
import { queries } from '../../api/queries';
import { ControlChart } from '../../chart/ControlChart';
import { fromView } from '../../chart/fromView';
import type { Pencil } from '../../chart/model';
import { Loaded } from '../../ui/States';
import { LAB } from '../../words/lab';

/** The Levey-Jennings chart of one level, with the result being typed in pencil. */
export function LevelChart({
  level,
  analyte,
  typed,
}: {
  level: Level;
  analyte: string;
  typed: { value: number; flagged: boolean } | null;
}) {
  const navigate = useNavigate();
  const query = useQuery(queries.entry(level.characteristic));
  const pencil = useMemo<Pencil[]>(() => (typed ? [{ statistic: 'individual', ...typed }] : []), [typed]);
  return (
    <Box>
      <Typography variant="h2">{LAB.levelChart(analyte, level.name)}</Typography>
      <Loaded query={query} what={LAB.theChart}>
        {(view) => (
          <>
            <ControlChart
              model={fromView(view)}
              height={260}
              pencil={pencil}
              onOpenEpisode={(id) => void navigate(`/signals/${id}`)}
            />
            <Link component={RouterLink} to={`/charts/${level.characteristic}`}>
              {LAB.openWhole}
            </Link>
          </>
        )}
      </Loaded>
    </Box>
  );
}
