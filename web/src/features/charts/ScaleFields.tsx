import { Button, Stack, TextField, Typography } from '@mui/material';
import { type KeyboardEvent, useState } from 'react';
import type { ChartModel } from '../../chart/model';
import { reach } from '../../chart/panel';
import { Notice } from '../../ui/Notice';
import { SEEN } from '../../words/reading';
import { numberOf } from '../../words/numbers';
import { panelName } from '../../words/signals';
import { type Scales, scalesIn, scalesInWords } from './address';

interface Props {
  model: ChartModel;
  kept: string | null;
  onScale: (scale: string | null) => void;
}

/** The scale of each panel, as it is typed; the address keeps it. */
export function ScaleFields({ model, kept, onScale }: Props) {
  const before = scalesIn(kept);
  const [typed, setTyped] = useState(() =>
    model.panels.map(({ statistic }) => (before[statistic] ?? ['', '']).map(String)),
  );
  const rounded = (x: number) => Number(x.toPrecision(6));
  const [wrong, setWrong] = useState<string | null>(null);
  const take = () => {
    const scales: Scales = {};
    const refused: string[] = [];
    model.panels.forEach((panel, i) => {
      const [low, high] = (typed[i] ?? []).map(numberOf);
      const unread = (typed[i] ?? []).some((text) => text.trim() !== '' && Number.isNaN(numberOf(text)));
      const [lowest, highest] = reach({ ...panel, scale: undefined }, undefined);
      if (unread) refused.push(SEEN.notAScale(panelName(panel.statistic)));
      if (low === undefined || high === undefined || (Number.isNaN(low) && Number.isNaN(high))) return;
      const [from, to] = [Number.isNaN(low) ? lowest : low, Number.isNaN(high) ? highest : high];
      if (from < to) scales[panel.statistic] = [rounded(from), rounded(to)];
      else refused.push(SEEN.notAScale(panelName(panel.statistic)));
    });
    setWrong(refused[0] ?? null);
    if (refused.length === 0) onScale(scalesInWords(scales));
  };
  const fromZero = () => {
    const scales: Scales = { ...before };
    for (const panel of model.panels) {
      const [low, high] = reach(panel, undefined);
      if (low < 0 && high > 0) scales[panel.statistic] = [0, rounded(high)];
    }
    onScale(scalesInWords(scales));
  };
  // A menu would take letters and arrows for its own.
  const keep = (event: KeyboardEvent) => {
    if (event.key !== 'Escape' && event.key !== 'Tab') event.stopPropagation();
    if (event.key === 'Enter') take();
  };
  return (
    <Stack sx={{ gap: 1.25 }} onKeyDown={keep}>
      {model.panels.map(({ statistic }, i) => (
        <Stack key={statistic} direction="row" sx={{ gap: 1, alignItems: 'center' }}>
          <Typography sx={{ width: 120 }}>{panelName(statistic)}</Typography>
          {[0, 1].map((end) => (
            <TextField
              key={end}
              size="small"
              label={end === 0 ? SEEN.from(panelName(statistic)) : SEEN.to(panelName(statistic))}
              value={typed[i]?.[end] ?? ''}
              slotProps={{ htmlInput: { inputMode: 'decimal' } }}
              sx={{ width: 120 }}
              onChange={(event) =>
                setTyped((all) => all.map((one, k) => (k === i ? one.with(end, event.target.value) : one)))
              }
            />
          ))}
        </Stack>
      ))}
      {wrong !== null && <Notice kind="problem">{wrong}</Notice>}
      <Stack direction="row" sx={{ gap: 1, flexWrap: 'wrap' }}>
        <Button variant="outlined" onClick={take}>
          {SEEN.useScale}
        </Button>
        <Button color="inherit" onClick={fromZero}>
          {SEEN.fromZero}
        </Button>
        {kept !== null && (
          <Button color="inherit" onClick={() => onScale(null)}>
            {SEEN.ownScale}
          </Button>
        )}
      </Stack>
    </Stack>
  );
}
