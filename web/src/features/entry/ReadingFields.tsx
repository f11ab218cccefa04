import { Box, InputBase, Typography, useMediaQuery } from '@mui/material';
import { type KeyboardEvent, type RefObject, useState } from 'react';
import { Notice } from '../../ui/Notice';
import type { ReadingRefusal } from '../../api/client';
import { ENTRY, onPad } from '../../words/entry';
import { pieceOf, refusal } from '../../words/failures';
import { figure } from '../../words/numbers';
import { pasted } from './draft';
import { NumberPad } from './NumberPad';
import type { EntryState } from './useEntry';
import { useConnectedGauge } from './useConnectedGauge';
import { useGauge } from './useGauge';

/** One field a piece. Enter goes to the next and saves on the last; Esc goes one back. */
export function ReadingFields({
  entry,
  place,
  before,
  unit,
  decimals,
  fields,
  refused,
  onLeave,
}: {
  entry: EntryState;
  /** Where and what is measured, for a gauge that is connected there. */
  place: { station: string; characteristic: string };
  /** What the sample before recorded, piece by piece. */
  before: readonly (number | null)[];
  unit: string;
  decimals: number;
  fields: RefObject<(HTMLInputElement | null)[]>;
  refused: readonly ReadingRefusal[];
  onLeave: () => void;
}) {
  const { draft, sending } = entry;
  const locked = sending.kind === 'sending';
  const gauge = useGauge();
  const touched = useMediaQuery('(pointer: coarse)');
  const [active, setActive] = useState(0);
  const [tooMany, setTooMany] = useState<readonly string[]>([]);
  const count = draft.readings.length;
  const change: EntryState['change'] = (how) => {
    setTooMany([]);
    entry.change(how);
  };
  const go = (piece: number) => {
    const field = fields.current[piece];
    field?.focus();
    field?.select();
  };
  const type = (piece: number, text: string) =>
    change((d) => ({
      ...d,
      leftOut: d.leftOut.filter((left) => left !== piece + 1),
      readings: d.readings.map((r, i) => (i === piece ? text : r)),
    }));
  /** A row or column of values fills the fields from here on; what does not fit is said, and not lost without a word. */
  const fill = (from: number, values: readonly string[]) => {
    change((d) => ({ ...d, leftOut: [], readings: d.readings.map((r, i) => values[i - from] ?? r) }));
    setTooMany(values.slice(count - from));
    go(Math.min(from + values.length, count) - 1);
  };
  const next = (piece: number) => {
    if (piece < count - 1) go(piece + 1);
    else entry.save();
  };
  const blank = draft.readings.findIndex((text) => text.trim() === '');
  useConnectedGauge(
    place.station,
    place.characteristic,
    () => blank !== -1 && !locked,
    (value) => {
      // Into the field that is looked at, or the first blank one. The last one does not save: it wants to be seen.
      const piece = draft.readings[active]?.trim() === '' ? active : blank;
      type(piece, value);
      go(piece < count - 1 ? piece + 1 : piece);
    },
  );
  const onKeyDown = (piece: number) => (event: KeyboardEvent) => {
    // Ctrl Enter and Alt Enter answer a question of the form.
    if (event.ctrlKey || event.altKey) return;
    const fromGauge = event.key === 'Tab' && !event.shiftKey && gauge.typesStill(event.timeStamp);
    if (event.key.length === 1) gauge.sign(event.timeStamp);
    if (event.key === 'Enter' || fromGauge) {
      event.preventDefault();
      next(piece);
    } else if (event.key === 'Escape') {
      event.preventDefault();
      if (piece > 0) go(piece - 1);
      else onLeave();
    }
  };
  const last = before[active];
  const says = onPad(count === 1 ? null : active + 1, unit, last == null ? null : figure(last, decimals));
  return (
    <>
      {tooMany.length > 0 && <Notice kind="caution">{ENTRY.tooMany(tooMany)}</Notice>}
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}>
        {draft.readings.map((text, piece) => {
          const why = refused.find((r) => pieceOf(r) === piece + 1);
          const asked =
            (sending.kind === 'asked' && sending.unusual.some((u) => u.piece === piece + 1)) ||
            (sending.kind === 'blank' && sending.pieces.includes(piece + 1));
          return (
            <Box component="li" key={piece}>
              <Box
                component="label"
                sx={(theme) => ({
                  display: 'grid',
                  gridTemplateColumns: '72px 1fr auto',
                  alignItems: 'center',
                  bgcolor: 'background.paper',
                  border: `1px solid ${why ? theme.palette.error.main : asked ? theme.palette.warning.main : theme.palette.text.secondary}`,
                  borderRadius: 1,
                  px: 1.5,
                  minHeight: touched ? 48 : 52,
                  '&:focus-within': { outline: `3px solid ${theme.palette.primary.main}`, outlineOffset: -1 },
                })}
              >
                <Typography component="span" color="text.secondary">
                  {draft.readings.length === 1 ? ENTRY.reading : ENTRY.piece(piece + 1)}
                </Typography>
                <InputBase
                  value={text}
                  readOnly={locked}
                  autoFocus={piece === 0}
                  inputRef={(node: HTMLInputElement | null) => {
                    fields.current[piece] = node;
                  }}
                  onFocus={() => {
                    gauge.began();
                    setActive(piece);
                  }}
                  onChange={(event) => type(piece, event.target.value)}
                  onPaste={(event) => {
                    const values = pasted(event.clipboardData.getData('text'));
                    if (values.length < 2) return;
                    event.preventDefault();
                    fill(piece, values);
                  }}
                  onKeyDown={onKeyDown(piece)}
                  inputProps={{
                    placeholder: draft.leftOut.includes(piece + 1) ? ENTRY.leftOut : undefined,
                    inputMode: touched ? 'none' : decimals > 0 ? 'decimal' : 'numeric',
                    autoComplete: 'off',
                    enterKeyHint: piece < draft.readings.length - 1 ? 'next' : 'send',
                    'aria-invalid': Boolean(why),
                    'aria-describedby': why ? `why-${piece}` : undefined,
                  }}
                  sx={{
                    '& input': {
                      fontSize: '1.9rem',
                      fontWeight: 600,
                      textAlign: 'right',
                      py: 0.25,
                      outline: 'none !important',
                    },
                  }}
                />
                <Typography component="span" color="text.secondary" sx={{ pl: 1, minWidth: 52 }}>
                  {unit}
                </Typography>
              </Box>
              {why && (
                <Typography id={`why-${piece}`} role="alert" sx={{ color: 'error.main', mt: 0.25 }}>
                  ▲ {refusal(why)}
                </Typography>
              )}
            </Box>
          );
        })}
      </Box>
      {touched && (
        <NumberPad
          says={says}
          decimals={decimals}
          last={active === count - 1}
          onType={(sign) => type(active, `${draft.readings[active] ?? ''}${sign}`)}
          onErase={() => type(active, (draft.readings[active] ?? '').slice(0, -1))}
          onNext={() => next(active)}
          onSave={() => entry.save()}
        />
      )}
    </>
  );
}
