import { Box, Button, Stack, Typography } from '@mui/material';
import { useRef, useState } from 'react';
import { type ChosenFile, forgetFile, keepFile } from '../../device/files';
import { Notice } from '../../ui/Notice';
import { FILES } from '../../words/signalPages';

/** As the server takes them; it looks into each itself. */
const ACCEPTED = ['image/png', 'image/jpeg', 'application/pdf'];
const BYTES_AT_MOST = 10 * 1024 * 1024;
const FILES_AT_MOST = 5;

/** Photos and documents that go with what is said; they are on the device from the moment they are chosen. */
export function FileChoice({
  files,
  onChange,
}: {
  files: readonly ChosenFile[];
  onChange: (files: ChosenFile[]) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const take = async (chosen: readonly File[]) => {
    const refused = chosen.find((file) => !ACCEPTED.includes(file.type) || file.size > BYTES_AT_MOST);
    const many = files.length + chosen.length > FILES_AT_MOST;
    if (refused || many) {
      setWrong(refused ? FILES.refused(refused.name) : FILES.tooMany(FILES_AT_MOST));
      return;
    }
    setWrong(null);
    try {
      onChange([...files, ...(await Promise.all(chosen.map(keepFile)))]);
    } catch {
      setWrong(FILES.deviceFull);
    }
  };
  const remove = (id: string) => {
    onChange(files.filter((file) => file.id !== id));
    void forgetFile(id);
  };
  return (
    <Box>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        accept={ACCEPTED.join(',')}
        aria-label={FILES.add}
        onChange={(event) => {
          void take([...(event.target.files ?? [])]);
          // The same file can be chosen again after it was taken away.
          event.target.value = '';
        }}
      />
      <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => input.current?.click()}>
        {FILES.add}
      </Button>
      {wrong !== null && <Notice kind="problem">{wrong}</Notice>}
      <Stack component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {files.map(({ id, name, bytes }) => (
          <Stack key={id} component="li" direction="row" sx={{ alignItems: 'center', gap: 1 }}>
            <Typography sx={{ overflowWrap: 'anywhere' }}>
              {name}{' '}
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {FILES.size(bytes)}
              </Box>
            </Typography>
            <Button color="inherit" sx={{ minHeight: 48 }} aria-label={FILES.removeOf(name)} onClick={() => remove(id)}>
              {FILES.remove}
            </Button>
          </Stack>
        ))}
      </Stack>
    </Box>
  );
}
