import { Box, Dialog, DialogContent, DialogTitle } from '@mui/material';
import { useState } from 'react';
import { useKeys } from '../ui/useKeys';
import { KEYS, KEYS_TITLE } from '../words/app';

function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.matches('input, textarea, select') || target.isContentEditable);
}

/** The list of shortcuts, under the question mark. */
export function Shortcuts() {
  const [open, setOpen] = useState(false);
  useKeys((event) => {
    if (event.key === '?' && !isTyping(event.target)) setOpen(true);
  });
  return (
    <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="shortcuts">
      <DialogTitle id="shortcuts">{KEYS_TITLE}</DialogTitle>
      <DialogContent>
        {KEYS.map(([where, keys]) => (
          <Box key={where} component="section" sx={{ mb: 2 }}>
            <Box component="h3" sx={{ m: 0, mb: 0.5, fontSize: '1rem' }}>
              {where}
            </Box>
            <Box
              component="dl"
              sx={{ m: 0, display: 'grid', gridTemplateColumns: '11rem 1fr', rowGap: 0.5, '& dd': { m: 0 } }}
            >
              {keys.map(([key, does]) => (
                <Box key={key} sx={{ display: 'contents' }}>
                  <dt>
                    <kbd>{key}</kbd>
                  </dt>
                  <dd>{does}</dd>
                </Box>
              ))}
            </Box>
          </Box>
        ))}
      </DialogContent>
    </Dialog>
  );
}
