import { Box, Dialog, DialogContent, DialogTitle } from '@mui/material';
import { useState } from 'react';
import { useKeys } from '../ui/useKeys';

const KEYS: readonly [where: string, keys: readonly (readonly [key: string, does: string])[]][] = [
  ['Everywhere', [['?', 'shows this list'], ['Esc', 'one step back; what is typed stays']]],
  ['Rounds', [['N', 'opens the most urgent characteristic']]],
  ['Entry', [['Enter', 'next reading; on the last one saves'], ['Letters', 'count one of their kind, digits before them so many'], ['U', 'takes the last count back']]],
  [
    'Chart',
    [['← →', 'choose a point'], ['Home End', 'first and last point'], ['+ −', 'zoom'], ['Page up, Page down', 'move along'], ['0', 'shows all']],
  ],
];

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
      <DialogTitle id="shortcuts">Keys</DialogTitle>
      <DialogContent>
        {KEYS.map(([where, keys]) => (
          <Box key={where} component="section" sx={{ mb: 2 }}>
            <Box component="h3" sx={{ m: 0, mb: 0.5, fontSize: '1rem' }}>{where}</Box>
            <Box component="dl" sx={{ m: 0, display: 'grid', gridTemplateColumns: '11rem 1fr', rowGap: 0.5, '& dd': { m: 0 } }}>
              {keys.map(([key, does]) => (
                <Box key={key} sx={{ display: 'contents' }}>
                  <dt><kbd>{key}</kbd></dt>
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
