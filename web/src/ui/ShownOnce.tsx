import { Box, Button, Paper, TextField, Typography } from '@mui/material';
import type { FocusEvent, ReactNode } from 'react';
import { Notice } from './Notice';

/** Something secret, this once. */
export function ShownOnce({
  title,
  label = title,
  about,
  secret,
  done,
  onDone,
  children,
}: {
  title: string;
  /** What the field is called, where the title says more. */
  label?: string;
  about: string;
  secret: string;
  done: string;
  onDone: () => void;
  /** How it is used. */
  children?: ReactNode;
}) {
  const select = (event: FocusEvent<HTMLInputElement>) => event.currentTarget.select();
  return (
    <Box sx={{ maxWidth: 680, mx: 'auto' }}>
      <Typography variant="h1" sx={{ mb: 1.5, overflowWrap: 'anywhere' }}>
        {title}
      </Typography>
      <Paper component="section" aria-label={label} sx={{ p: 2 }}>
        <Notice kind="caution">{about}</Notice>
        <TextField
          fullWidth
          label={label}
          value={secret}
          sx={{ my: 2 }}
          slotProps={{ htmlInput: { readOnly: true, style: { fontFamily: 'monospace' }, onFocus: select } }}
        />
        {children}
        <Button variant="contained" onClick={onDone}>
          {done}
        </Button>
      </Paper>
    </Box>
  );
}
