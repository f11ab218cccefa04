import { Box, Button, Paper, TextField, Typography } from '@mui/material';
import type { FocusEvent } from 'react';
import { Notice } from '../../ui/Notice';
import { DEVICE } from '../../words/devices';

/** The token, this once. */
export function Token({ name, token, onDone }: { name: string; token: string; onDone: () => void }) {
  const select = (event: FocusEvent<HTMLInputElement>) => event.currentTarget.select();
  return (
    <Box sx={{ maxWidth: 820, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {DEVICE.tokenOf(name)}
      </Typography>
      <Paper component="section" aria-label={DEVICE.token} sx={{ p: 2 }}>
        <Notice kind="caution">{DEVICE.shownOnce}</Notice>
        <TextField
          fullWidth
          label={DEVICE.token}
          value={token}
          sx={{ my: 2 }}
          slotProps={{ htmlInput: { readOnly: true, style: { fontFamily: 'monospace' }, onFocus: select } }}
        />
        <Typography color="text.secondary" sx={{ mb: 2 }}>
          {DEVICE.tokenUse} <code>POST /api/ingest</code>, <code>Authorization: Bearer …</code>
        </Typography>
        <Button variant="contained" onClick={onDone}>
          {DEVICE.copied}
        </Button>
      </Paper>
    </Box>
  );
}
