import { Box, Button, Stack, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type ChangedRow, type ImportCheck, type Plan, type ToBringIn } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { Notice } from '../../ui/Notice';
import { CHANGED_ROWS } from '../../words/data';
import { recorded } from '../../words/samples';
import { when } from '../../words/time';

interface Props {
  asked: ToBringIn;
  found: ImportCheck;
  /** What they are brought into. */
  setup: Plan['characteristics'][number];
}

/** Rows that are listed. */
const SHOWN = 20;

/** Rows that were stored with other cells: what is stored, what the table says now, and the correction of both. */
export function ChangedRows({ asked, found, setup }: Props) {
  const client = useQueryClient();
  const [reason, setReason] = useState('');
  const correct = useMutation({
    mutationFn: async () => {
      const { corrected } = await answered(api.POST('/api/data/corrections', { body: { table: asked, reason } }));
      await touch(client, { kind: 'limits', characteristic: asked.characteristic });
      return corrected;
    },
    // Where it ended early, what was corrected before is known now.
    onSettled: () => client.invalidateQueries({ queryKey: ['import-check'] }),
  });
  const rows = found.first_changed;
  const many = rows.filter((row) => row.can_be_corrected).length;
  return (
    <Box component="section" aria-labelledby="changed-rows" sx={{ width: '100%' }}>
      <Notice kind="caution">
        <span id="changed-rows">{CHANGED_ROWS.title(found.changed)}</span>
      </Notice>
      <Box
        tabIndex={0}
        role="group"
        aria-labelledby="changed-rows"
        sx={{ overflow: 'auto', maxHeight: 320, my: 1, '& td, & th': { px: 1, py: 0.25, textAlign: 'left' } }}
      >
        <Box component="table" sx={{ borderCollapse: 'collapse', fontVariantNumeric: 'tabular-nums' }}>
          <thead>
            <tr>
              {CHANGED_ROWS.columns.map((column) => (
                <th key={column} scope="col">
                  {column}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, SHOWN).map((row) => (
              <Row key={row.sample} row={row} setup={setup} />
            ))}
          </tbody>
        </Box>
      </Box>
      {rows.length > SHOWN && <div>{CHANGED_ROWS.more(found.changed - SHOWN)}</div>}
      {many > 0 && (
        <Stack direction="row" sx={{ gap: 1.25, flexWrap: 'wrap', alignItems: 'flex-start' }}>
          <TextField
            size="small"
            fullWidth={false}
            label={CHANGED_ROWS.reason}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 2000 } }}
            sx={{ minWidth: 320 }}
          />
          <Button
            variant="outlined"
            disabled={reason.trim() === '' || correct.isPending}
            onClick={() => correct.mutate()}
          >
            {CHANGED_ROWS.correct(many)}
          </Button>
        </Stack>
      )}
      <Failed why={correct.error} />
    </Box>
  );
}

function Row({ row, setup }: { row: ChangedRow; setup: Props['setup'] }) {
  const said = (content: ChangedRow['now']) => (content == null ? CHANGED_ROWS.gap : recorded({ content }, setup));
  return (
    <tr>
      <td>{row.row}</td>
      <td>{row.number}</td>
      <td>{when(row.taken_at)}</td>
      <td>{said(row.before)}</td>
      <td>
        {said(row.now)}
        {!row.can_be_corrected && <div>{CHANGED_ROWS.notCorrected}</div>}
      </td>
    </tr>
  );
}
