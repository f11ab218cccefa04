import { Button, Checkbox, FormControlLabel, Popover, Stack, Typography } from '@mui/material';
import { type ReactNode, useState } from 'react';
import type { ChartView } from '../../api/chart';
import type { ChartModel } from '../../chart/model';
import type { Window } from '../../plot/places';
import { DayPick } from '../../ui/DayPick';
import { Pick } from '../../ui/Pick';
import { SEEN } from '../../words/reading';
import type { Address, Changes } from '../../ui/useAddress';
import { lastIn, lastInWords, LASTS, NO_STRETCH } from './address';
import { ScaleFields } from './ScaleFields';
import { tagNames } from './tags';

const PARTS = ['zones', 'labels', 'lanes', 'components'] as const;

interface Props {
  view: ChartView;
  model: ChartModel;
  close: Window | null;
  onClose: (window: Window | null) => void;
  address: Address;
  /** What more can be done with what is seen. */
  children?: ReactNode;
}

/** Which points are looked at, and what of the chart is drawn. */
export function SeenBar({ view, model, close, onClose, address: { params, put }, children }: Props) {
  const [opener, setOpener] = useState<HTMLElement | null>(null);
  const only = (changes: Changes) => put({ ...NO_STRETCH, ...changes });
  const phase = view.phases[view.phases.length - 1]?.limits;
  const byDay = params.get('after') ?? params.get('until');
  const which = params.get('since') !== null ? 'since' : byDay !== null ? 'days' : lastInWords(lastIn(params));
  const [days, setDays] = useState(byDay !== null);
  const names = tagNames(view);
  const hidden = (params.get('hide') ?? '').split(',').filter((part) => part !== '');
  const toggle = (part: string) =>
    put({ hide: (hidden.includes(part) ? hidden.filter((one) => one !== part) : [...hidden, part]).join(',') });
  const parts = PARTS.filter((part) => part !== 'components' || view.characteristic.components.length > 0);
  return (
    <Stack direction="row" sx={{ gap: 1, alignItems: 'center', flexWrap: 'wrap', mb: 1, displayPrint: 'none' }}>
      <Pick
        label={SEEN.points}
        value={days ? 'days' : which}
        onPick={(value) => {
          setDays(value === 'days');
          if (value === 'since') only({ since: phase?.starts_at ?? null });
          else if (value !== 'days') only({ last: value });
        }}
        options={[
          ...LASTS.map((last) => [lastInWords(last), SEEN.last(last)] as const),
          ['since', SEEN.sinceLimits],
          ['days', SEEN.days],
        ]}
      />
      {days && (
        <>
          <DayPick
            label={SEEN.after}
            value={params.get('after') ?? ''}
            onPick={(day) => only({ after: day, until: params.get('until') })}
          />
          <DayPick
            label={SEEN.until}
            value={params.get('until') ?? ''}
            onPick={(day) => only({ after: params.get('after'), until: day })}
          />
        </>
      )}
      {names.length > 0 && (
        <Pick
          label={SEEN.marksBy}
          value={params.get('tag') ?? ''}
          onPick={(tag) => put({ tag })}
          options={[['', SEEN.noTag], ...names.map((name) => [name, name] as const)]}
        />
      )}
      <Button color="inherit" aria-haspopup="dialog" onClick={(event) => setOpener(event.currentTarget)}>
        {SEEN.draw}
      </Button>
      <Button
        color="inherit"
        aria-pressed={params.get('table') === '1'}
        onClick={() => put({ table: params.get('table') === '1' ? null : '1' })}
      >
        {params.get('table') === '1' ? SEEN.noTable : SEEN.table}
      </Button>
      {children}
      {close !== null && (
        <Button variant="outlined" onClick={() => onClose(null)}>
          {SEEN.showAll}
        </Button>
      )}
      <Popover
        anchorEl={opener}
        open={opener !== null}
        onClose={() => setOpener(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': SEEN.drawn, sx: { px: 2, py: 1.5, maxWidth: 480 } } }}
      >
        <Stack>
          {parts.map((part) => (
            <FormControlLabel
              key={part}
              control={<Checkbox checked={!hidden.includes(part)} onChange={() => toggle(part)} />}
              label={SEEN.parts[part]}
            />
          ))}
          <Typography variant="h3" sx={{ mt: 1.5, mb: 1 }}>
            {SEEN.scale}
          </Typography>
          <ScaleFields
            key={JSON.stringify([params.get('scale'), view.characteristic.scales])}
            model={model}
            of={view.characteristic}
            said={params.get('scale')}
            onScale={(scale) => put({ scale })}
          />
        </Stack>
      </Popover>
    </Stack>
  );
}
