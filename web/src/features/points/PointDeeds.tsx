import { Button, Stack } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ChartPoint } from '../../api/chart';
import type { LimitsChange } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { POINT_DEEDS } from '../../words/limits';
import { type ChangeOf, type Deed, DeedForm } from './DeedForm';
import { useLimitsChange } from './useLimitsChange';

/** What can be said of a point: set aside, restart here, a phase from here on; and undone. */
export function PointDeeds({ characteristic, point }: { characteristic: string; point: ChartPoint }) {
  const maySetAside = useMay('set_aside');
  const mayLimit = useMay('set_limits');
  const [doing, setDoing] = useState<Deed | null>(null);
  const limits = useQuery({ ...queries.limits(characteristic), enabled: maySetAside });
  const change = useLimitsChange(characteristic);
  const { aside, restart, sample } = point;
  const said = (
    <>
      {aside != null && <Notice kind="caution">{POINT_DEEDS.isAside(aside.person, aside.at, aside.because)}</Notice>}
      {restart != null && (
        <Notice kind="settled">{POINT_DEEDS.isRestart(restart.person, restart.at, restart.because)}</Notice>
      )}
    </>
  );
  if (!maySetAside || limits.data === undefined) return said;
  if (doing !== null) {
    const done = () => setDoing(null);
    const make = (of: ChangeOf) => change.mutate(of(sample), { onSuccess: done });
    return <DeedForm deed={doing} characteristic={characteristic} change={change} make={make} onBack={done} />;
  }
  const undo = (made: LimitsChange) => change.mutate(made);
  return (
    <Stack spacing={1} sx={{ mt: 1 }}>
      {said}
      <Failed why={change.error} />
      <Stack direction="row" sx={{ flexWrap: 'wrap', gap: 1 }}>
        {aside != null ? (
          <Button
            variant="outlined"
            color="inherit"
            disabled={change.isPending}
            onClick={() => undo({ change: 'take_back', sample })}
          >
            {POINT_DEEDS.takeBack}
          </Button>
        ) : (
          point.gap == null && (
            <Button variant="outlined" color="inherit" onClick={() => setDoing('aside')}>
              {POINT_DEEDS.setAside}
            </Button>
          )
        )}
        {restart != null ? (
          <Button
            variant="outlined"
            color="inherit"
            disabled={change.isPending}
            onClick={() => undo({ change: 'undo_restart', sample })}
          >
            {POINT_DEEDS.undoRestart}
          </Button>
        ) : (
          <Button variant="outlined" color="inherit" onClick={() => setDoing('restart')}>
            {POINT_DEEDS.restart}
          </Button>
        )}
        {mayLimit && point.gap == null && (
          <Button variant="outlined" color="inherit" onClick={() => setDoing('phase')}>
            {POINT_DEEDS.startPhase}
          </Button>
        )}
      </Stack>
    </Stack>
  );
}
