import { Button, Stack } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { ChartView } from '../../api/chart';
import { queries } from '../../api/queries';
import { Notice } from '../../ui/Notice';
import { Loaded } from '../../ui/States';
import { CHART_PAGE } from '../../words/charts';
import { PointCard } from '../points';

interface Props {
  number: number;
  /** Where it may be known from. */
  views: readonly (ChartView | null)[];
  correct: boolean;
  /** Shows it among all points. */
  onAll: () => void;
}

/** The card of a point; what is not known of it yet is asked for. */
export function ChosenPoint({ number, views, correct, onAll }: Props) {
  for (const view of views) {
    const at = view?.points.findIndex((point) => point.number === number) ?? -1;
    if (view && at !== -1) return <PointCard view={view} at={at} correct={correct} />;
  }
  return <Asked number={number} view={views.find((view) => view !== null)} correct={correct} onAll={onAll} />;
}

function Asked({ number, view, correct, onAll }: Omit<Props, 'views'> & { view: ChartView | undefined }) {
  const query = useQuery({
    ...queries.chart(view?.characteristic.id ?? '', { from: number, to: number }),
    enabled: view !== undefined,
  });
  const away = view !== undefined && !view.marks.number.includes(number);
  const [taken] = query.data?.marks.taken_at ?? [];
  return (
    <Loaded query={query} what={CHART_PAGE.thePoint}>
      {(one) => (
        <Stack spacing={1}>
          {away && taken !== undefined && (
            <>
              <Notice kind="caution">{CHART_PAGE.notAmong}</Notice>
              <Button variant="outlined" onClick={onAll}>
                {CHART_PAGE.showAmongAll}
              </Button>
            </>
          )}
          <PointCard view={one} at={0} correct={correct} />
        </Stack>
      )}
    </Loaded>
  );
}
