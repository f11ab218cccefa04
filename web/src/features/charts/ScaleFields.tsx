import { Button, Stack, TextField, Typography } from '@mui/material';
import { type KeyboardEvent, useState } from 'react';
import type { CharacteristicView } from '../../api/client';
import type { ChartModel } from '../../chart/model';
import { reach } from '../../chart/panel';
import { useMay } from '../../session/session';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { SEEN } from '../../words/reading';
import { numberOf } from '../../words/numbers';
import { panelName } from '../../words/signals';
import { keptOf, OWN_SCALES, type Scales, scalesInWords, scalesSeen } from './address';
import { useKeepScales } from './useKeepScales';

interface Props {
  model: ChartModel;
  of: CharacteristicView;
  /** What the address says of scales. */
  said: string | null;
  onScale: (scale: string | null) => void;
}

/** The scale of each panel, as it is typed: for this look the address has it, for everybody the set-up keeps it. */
export function ScaleFields({ model, of, said, onScale }: Props) {
  const mayKeep = useMay('set_up');
  const keep = useKeepScales(of, () => onScale(null));
  const before = scalesSeen(said, of.scales);
  const ruled = Object.keys(before).length > 0;
  const [typed, setTyped] = useState(() =>
    model.panels.map(({ statistic }) => (before[statistic] ?? ['', '']).map(String)),
  );
  const rounded = (x: number) => Number(x.toPrecision(6));
  const [wrong, setWrong] = useState<string | null>(null);
  const read = (): Scales | null => {
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
    return refused.length === 0 ? scales : null;
  };
  const take = () => {
    const scales = read();
    if (scales) onScale(scalesInWords(scales) ?? (of.scales.length > 0 ? OWN_SCALES : null));
  };
  const fromZero = () => {
    const scales: Scales = { ...before };
    for (const panel of model.panels) {
      const [low, high] = reach(panel, undefined);
      if (low < 0 && high > 0) scales[panel.statistic] = [0, rounded(high)];
    }
    onScale(scalesInWords(scales));
  };
  const typing = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && event.target instanceof HTMLInputElement) take();
  };
  return (
    <Stack sx={{ gap: 1.25 }} onKeyDown={typing}>
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
        {ruled && (
          <Button color="inherit" onClick={() => onScale(of.scales.length > 0 ? OWN_SCALES : null)}>
            {SEEN.ownScale}
          </Button>
        )}
        {said !== null && of.scales.length > 0 && (
          <Button color="inherit" onClick={() => onScale(null)}>
            {SEEN.keptScale}
          </Button>
        )}
        {mayKeep && (
          <Button
            color="inherit"
            disabled={keep.isPending}
            onClick={() => {
              const scales = read();
              if (scales) keep.mutate(keptOf(scales));
            }}
          >
            {SEEN.keepScale}
          </Button>
        )}
      </Stack>
      {of.scales.length > 0 && (
        <Typography color="text.secondary" variant="body2">
          {SEEN.isKept(said === null)}
        </Typography>
      )}
      {keep.error !== null && <Failed why={keep.error} />}
    </Stack>
  );
}
