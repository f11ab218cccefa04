import { Box, Button, ButtonBase, Stack, TextField, Typography, useMediaQuery } from '@mui/material';
import { useRef, useState } from 'react';
import type { ChartView } from '../../api/chart';
import { useKeys } from '../../ui/useKeys';
import { TALLY } from '../../words/entry';
import { counted, tap, undo } from './draft';
import { NumberPad } from './NumberPad';
import type { EntryState } from './useEntry';

/**
 * Counting by kind. Units that do not conform and flaws are asked for in their own words, so that
 * they are not mixed up. A letter counts one of its kind, digits before it so many.
 */
export function Tally({ entry, view, onLeave }: { entry: EntryState; view: ChartView; onLeave: () => void }) {
  const { characteristic: c } = view;
  const { draft, change, sending } = entry;
  const units = c.kind === 'nonconforming_units';
  const inspected = useRef<HTMLInputElement>(null);
  const board = useRef<HTMLDivElement>(null);
  const [digits, setDigits] = useState('');
  const [other, setOther] = useState<string | null>(null);
  const touched = useMediaQuery('(pointer: coarse)');
  const [pad, setPad] = useState(false);
  const locked = sending.kind === 'sending';
  const many = Math.max(1, Number(digits));
  const count = (kind: string | null, word: string | null) => {
    change((d) => tap(d, kind, word, many));
    setDigits('');
  };
  const none = () => change((d) => ({ ...d, none: true }));
  const back = () => {
    if (digits !== '') setDigits('');
    else change(undo);
  };
  useKeys((event) => {
    const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
    const pressing = event.target instanceof HTMLButtonElement && (event.key === 'Enter' || event.key === ' ');
    if (typing || pressing || event.ctrlKey || event.metaKey || event.altKey || locked) return;
    const key = event.key.toUpperCase();
    const kind = c.defect_kinds.find((k) => k.letter === key);
    if (kind) count(kind.id, null);
    else if (key === '0' && digits === '' && counted(draft) === 0) none();
    else if (/^[0-9]$/.test(key)) setDigits((d) => (d + key).slice(0, 4));
    else if (key === 'O') setOther('');
    else if (key === 'U' || key === 'BACKSPACE') back();
    else if (key === 'ENTER') entry.save();
    else if (key === 'ESCAPE') {
      if (c.varying && inspected.current) inspected.current.focus();
      else onLeave();
    } else return;
    event.preventDefault();
  });
  const all = counted(draft);
  const among = c.varying ? draft.inspected.trim() || '…' : String(c.subgroup_size);
  const others = draft.defects.filter((k) => k.kind === null && k.count > 0);
  return (
    <Stack spacing={1.25}>
      {c.varying && (
        <TextField
          inputRef={inspected}
          autoFocus
          label={TALLY.inspected(c.unit)}
          value={draft.inspected}
          slotProps={{
            htmlInput: { inputMode: touched ? 'none' : 'numeric', autoComplete: 'off', readOnly: locked },
            input: { sx: { fontSize: '1.7rem', fontWeight: 600 } },
          }}
          onChange={(event) => change((d) => ({ ...d, inspected: event.target.value }))}
          onFocus={() => setPad(touched)}
          onBlur={() => setPad(false)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') onLeave();
            if (event.key !== 'Enter') return;
            event.preventDefault();
            board.current?.focus();
          }}
        />
      )}
      <Box
        ref={board}
        tabIndex={-1}
        role="group"
        aria-label={TALLY.title}
        sx={{
          '&:focus': { outline: 'none' },
          '&:focus-visible': { outline: '3px solid', outlineColor: 'primary.main', outlineOffset: 4 },
        }}
      >
        <Typography color="text.secondary">{units ? TALLY.unitsOnce(c.unit) : TALLY.everyFlaw(c.unit)}</Typography>
        <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, 1fr)', gap: 1, mt: 1 }}>
          {c.defect_kinds.map((kind) => (
            <Kind
              key={kind.id}
              name={kind.name}
              letter={kind.letter}
              count={draft.defects.find((k) => k.kind === kind.id)?.count ?? 0}
              disabled={locked}
              onTap={() => count(kind.id, null)}
            />
          ))}
          {others.map((k) => (
            <Kind
              key={k.word}
              name={k.word ?? ''}
              letter=""
              count={k.count}
              disabled={locked}
              onTap={() => count(null, k.word)}
            />
          ))}
          <Kind name={TALLY.other} letter="O" count={0} disabled={locked} onTap={() => setOther('')} />
        </Box>
      </Box>
      {other !== null && (
        <TextField
          autoFocus
          size="small"
          label={TALLY.otherInAWord}
          value={other}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          onChange={(event) => setOther(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== 'Escape') return;
            event.preventDefault();
            if (event.key === 'Enter' && other.trim() !== '') count(null, other.trim());
            setOther(null);
            board.current?.focus();
          }}
        />
      )}
      <Stack direction="row" sx={{ alignItems: 'center', gap: 2 }}>
        <Typography role="status" sx={{ fontSize: '1.9rem', fontWeight: 600, flex: 1 }}>
          {all}{' '}
          <Box component="span" sx={{ fontSize: '1rem', fontWeight: 400 }}>
            {units ? TALLY.units(among) : TALLY.flaws(all, among, c.unit)}
            {digits !== '' && ` · ${TALLY.nextKey(digits)}`}
          </Box>
        </Typography>
        {all === 0 && (
          <Button
            variant={draft.none ? 'contained' : 'outlined'}
            color={draft.none ? 'primary' : 'inherit'}
            aria-pressed={draft.none}
            disabled={locked}
            onClick={draft.none ? back : none}
            sx={{ minHeight: 48 }}
          >
            {TALLY.none}
          </Button>
        )}
        <Button
          variant="outlined"
          color="inherit"
          disabled={locked || (draft.tapped.length === 0 && !draft.none)}
          onClick={back}
          sx={{ minHeight: 48 }}
        >
          {TALLY.undo}
        </Button>
      </Stack>
      {pad && c.varying && (
        <NumberPad
          says={TALLY.inspected(c.unit)}
          decimals={0}
          last={false}
          onType={(sign) => change((d) => ({ ...d, inspected: `${d.inspected}${sign}` }))}
          onErase={() => change((d) => ({ ...d, inspected: d.inspected.slice(0, -1) }))}
          onNext={() => board.current?.focus()}
        />
      )}
    </Stack>
  );
}

function Kind({
  name,
  letter,
  count,
  disabled,
  onTap,
}: {
  name: string;
  letter: string;
  count: number;
  disabled: boolean;
  onTap: () => void;
}) {
  return (
    <ButtonBase
      onClick={onTap}
      disabled={disabled}
      sx={{
        minHeight: 56,
        px: 1.5,
        gap: 1,
        justifyContent: 'start',
        border: 1,
        borderColor: 'text.secondary',
        borderRadius: 1,
        bgcolor: 'background.paper',
        font: 'inherit',
        fontSize: '1.05rem',
        textAlign: 'left',
      }}
    >
      {letter !== '' && (
        <Box component="kbd" sx={{ color: 'text.secondary' }}>
          {letter}
        </Box>
      )}
      <Box component="span" sx={{ flex: 1, minWidth: 0 }}>
        {name}
      </Box>
      {count > 0 && (
        <Box component="span" sx={{ fontWeight: 700, fontSize: '1.4rem' }}>
          {count}
        </Box>
      )}
    </ButtonBase>
  );
}
