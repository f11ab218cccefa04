import { Button } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { queries } from '../../api/queries';
import { useOutbox } from '../../outbox/Outbox';
import { useKeys } from '../../ui/useKeys';
import { ENTRY } from '../../words/entry';
import { roundOf, waitsOf } from '../rounds';

/** The way onward: what is due next, by a tap, or by a key that works while a field has the focus. */
export function NextDue({ here }: { here: string }) {
  const navigate = useNavigate();
  const { waiting } = useOutbox();
  const round = useQuery(queries.rounds);
  const waits = new Map([...waitsOf(waiting), [here, 1] as const]);
  const { next, stops } = roundOf(round.data ?? [], null, waits);
  const station = stops.find(({ stop }) => stop === next)?.station;
  const go = () => {
    if (next) void navigate(next.in_runs ? '/lab' : `/rounds/${next.id}`);
  };
  useKeys((event) => {
    if (event.altKey && event.code === 'KeyN' && next) {
      event.preventDefault();
      go();
    }
  });
  if (!next) return null;
  return (
    <Button
      variant="outlined"
      color="inherit"
      onClick={go}
      sx={{ minHeight: 48, justifyContent: 'space-between', textAlign: 'left' }}
    >
      <span>{ENTRY.nextDue(next.name, station ?? '')}</span>
      <kbd>Alt N</kbd>
    </Button>
  );
}
