import { Button, Paper, Stack, Typography } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import { Failed } from '../../ui/Failed';
import { sentenceFor } from '../../words/failures';
import { DATA } from '../../words/data';
import { when } from '../../words/time';
import { TooLarge, useUpload } from './useUpload';

/** A file is dropped or chosen, or cells are pasted. */
export function DropZone() {
  const input = useRef<HTMLInputElement>(null);
  const { mutate, isPending, error } = useUpload();
  const [over, setOver] = useState(false);
  const send = (file: File | undefined) => {
    if (file) mutate({ content: file, name: file.name });
  };
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const file = event.clipboardData?.files[0];
      const text = event.clipboardData?.getData('text/plain') ?? '';
      if (file) mutate({ content: file, name: file.name });
      else if (text.trim() !== '')
        mutate({ content: new Blob([text]), name: DATA.pasted(when(new Date().toISOString())) });
    };
    document.addEventListener('paste', paste);
    return () => document.removeEventListener('paste', paste);
  }, [mutate]);
  return (
    <Paper
      component="section"
      aria-labelledby="bring-in"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        send(event.dataTransfer.files[0]);
      }}
      sx={{ p: 3, mb: 3, borderStyle: 'dashed', borderWidth: 2, borderColor: over ? 'primary.main' : 'divider' }}
    >
      <Typography id="bring-in" variant="h2" sx={{ mb: 1 }}>
        {DATA.bringIn}
      </Typography>
      <Stack direction="row" sx={{ alignItems: 'center', columnGap: 2, rowGap: 1, flexWrap: 'wrap' }}>
        <input
          ref={input}
          type="file"
          hidden
          accept=".csv,.txt,.tsv,.xlsx,.ods,.json"
          aria-label={DATA.choose}
          onChange={(event) => {
            send(event.target.files?.[0]);
            // The same file can be chosen again after it was mended.
            event.target.value = '';
          }}
        />
        <Button variant="contained" disabled={isPending} onClick={() => input.current?.click()}>
          {DATA.choose}
        </Button>
        <span>{DATA.drop}</span>
      </Stack>
      <Typography color="text.secondary" sx={{ mt: 1 }}>
        {DATA.forms}
      </Typography>
      <Failed why={error} say={(why) => (why instanceof TooLarge ? DATA.tooLarge : sentenceFor(why))} />
    </Paper>
  );
}
