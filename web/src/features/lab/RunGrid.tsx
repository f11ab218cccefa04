import { Box, InputBase, TextField, type Theme, Typography } from '@mui/material';
import type { KeyboardEvent, RefObject } from 'react';
import type { Analyte, AnalyteJudgement, Bench, Outcome, RunPreview } from '../../api/client';
import { refusal } from '../../words/failures';
import { OUTCOME_MARKS, sdApart } from '../../words/lab';
import { LOT } from '../../words/levels';
import { figure } from '../../words/numbers';
import { RUN_ENTRY } from '../../words/run';
import { lotsOf, type RunDraft } from './runDraft';
import { Findings } from './OutcomeMark';

/** On a tablet in upright format what stands beside the results takes a line of its own. */
const WIDE = { gridColumn: { sm: '1 / -1', md: 'auto' } } as const;

export type Refused = Record<string, string>;

/** Why results are refused, by characteristic. */
export function refusedCells(refused: RunPreview['refused']): Refused {
  return Object.fromEntries(
    refused.map(({ characteristic, refusals }) => [characteristic, refusals.map(refusal).join(' ')]),
  );
}

/** Analytes down, levels across: one field a result, judged as it is typed. */
export function RunGrid({
  bench,
  draft,
  judgements,
  refused,
  fields,
  onType,
  onLot,
  onFocus,
  onEnter,
}: {
  bench: Bench;
  draft: RunDraft;
  judgements: readonly AnalyteJudgement[];
  refused: Refused;
  fields: RefObject<Map<string, HTMLInputElement>>;
  onType: (characteristic: string, text: string) => void;
  onLot: (which: 'reagent' | 'control', analyte: string, lot: string) => void;
  onFocus: (characteristic: string) => void;
  onEnter: (characteristic: string) => void;
}) {
  const levels = Math.max(...bench.analytes.map((a) => a.levels.length));
  const onKeyDown = (characteristic: string) => (event: KeyboardEvent) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    onEnter(characteristic);
  };
  return (
    <Box component="ul" aria-label={RUN_ENTRY.analytes} sx={{ m: 0, p: 0, listStyle: 'none' }}>
      {bench.analytes.map((analyte) => {
        const judged = judgements.find((j) => j.analyte === analyte.id);
        return (
          <Box
            component="li"
            key={analyte.id}
            sx={{
              display: 'grid',
              gridTemplateColumns: {
                xs: '1fr',
                sm: `repeat(${levels}, 1fr)`,
                md: `140px repeat(${levels}, minmax(96px, 150px)) minmax(150px, 1fr) 230px`,
              },
              gap: 1.5,
              alignItems: 'start',
              py: 0.75,
              '&:not(:first-of-type)': { borderTop: 1, borderColor: 'divider' },
            }}
          >
            <Box sx={WIDE}>
              <Typography sx={{ fontWeight: 650 }}>{analyte.name}</Typography>
              <Typography color="text.secondary" variant="body2">
                {analyte.unit}
              </Typography>
            </Box>
            {Array.from({ length: levels }, (_, i) => {
              const level = analyte.levels[i];
              if (!level) return <Box key={i} sx={{ display: { xs: 'none', md: 'block' } }} />;
              const result = judged?.results.find((r) => r.characteristic === level.characteristic);
              return (
                <Cell
                  key={level.characteristic}
                  analyte={analyte}
                  level={level}
                  text={draft.results[level.characteristic] ?? ''}
                  z={result?.z ?? null}
                  outcome={result?.outcome ?? 'accepted'}
                  why={refused[level.characteristic] ?? null}
                  field={(input) => {
                    if (input) fields.current.set(level.characteristic, input);
                    else fields.current.delete(level.characteristic);
                  }}
                  onType={(text) => onType(level.characteristic, text)}
                  onFocus={() => onFocus(level.characteristic)}
                  onKeyDown={onKeyDown(level.characteristic)}
                />
              );
            })}
            <Box sx={WIDE}>
              {judged && (
                <Box role="status">
                  <Findings judged={judged} />
                </Box>
              )}
            </Box>
            <Box sx={WIDE}>
              <Lots analyte={analyte} draft={draft} onLot={onLot} />
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

function Cell({
  analyte,
  level,
  text,
  z,
  outcome,
  why,
  field,
  onType,
  onFocus,
  onKeyDown,
}: {
  analyte: Analyte;
  level: Analyte['levels'][number];
  text: string;
  z: number | null;
  outcome: Outcome;
  why: string | null;
  field: (input: HTMLInputElement | null) => void;
  onType: (text: string) => void;
  onFocus: () => void;
  onKeyDown: (event: KeyboardEvent) => void;
}) {
  const { decimals } = analyte;
  const said = `said-${level.characteristic}`;
  const shape = outcome === 'accepted' ? '' : `${OUTCOME_MARKS[outcome]} `;
  const colour = ({ palette }: Theme) =>
    why !== null
      ? palette.error.main
      : {
          accepted: palette.text.secondary,
          warning: palette.warning.main,
          incomplete: palette.text.secondary,
          rejected: palette.error.main,
        }[outcome];
  return (
    <Box>
      <Typography
        component="label"
        htmlFor={`result-${level.characteristic}`}
        variant="body2"
        color="text.secondary"
        sx={{ display: 'block' }}
      >
        {level.name}
      </Typography>
      <InputBase
        inputRef={field}
        value={text}
        onChange={(event) => onType(event.target.value)}
        onFocus={onFocus}
        onKeyDown={onKeyDown}
        inputProps={{
          id: `result-${level.characteristic}`,
          'aria-label': RUN_ENTRY.level(analyte.name, level.name),
          'aria-describedby': said,
          'aria-invalid': why !== null,
          inputMode: 'decimal',
          autoComplete: 'off',
          maxLength: 32,
        }}
        sx={(theme) => ({
          width: '100%',
          minHeight: 48,
          px: 1.25,
          fontSize: '1.5rem',
          fontVariantNumeric: 'tabular-nums',
          bgcolor: 'background.paper',
          borderRadius: 1,
          border: `1px solid ${colour(theme)}`,
        })}
      />
      <Typography id={said} variant="body2" sx={(theme) => ({ color: colour(theme) })}>
        {why ?? (z === null ? expected(level, decimals) : `${shape}${sdApart(z)}`)}
      </Typography>
    </Box>
  );
}

function expected(level: Analyte['levels'][number], decimals: number): string {
  if (level.beside != null) return LOT.beside;
  return level.mean == null || level.sd == null
    ? RUN_ENTRY.noMean
    : RUN_ENTRY.expected(figure(level.mean, decimals), figure(level.sd, decimals));
}

function Lots({
  analyte,
  draft,
  onLot,
}: {
  analyte: Analyte;
  draft: RunDraft;
  onLot: (which: 'reagent' | 'control', analyte: string, lot: string) => void;
}) {
  const lots = lotsOf(draft, analyte);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, mt: { xs: 0, md: 2.25 } }}>
      {(['reagent', 'control'] as const).map((which) => (
        <TextField
          key={which}
          size="small"
          label={RUN_ENTRY.lots[which]}
          value={lots[which]}
          onChange={(event) => onLot(which, analyte.id, event.target.value)}
          slotProps={{
            htmlInput: { maxLength: 80, autoComplete: 'off', 'aria-label': RUN_ENTRY.lotOf[which](analyte.name) },
          }}
        />
      ))}
    </Box>
  );
}
