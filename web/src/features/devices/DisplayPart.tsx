import { Box, Paper, Stack } from '@mui/material';
import type { Control } from 'react-hook-form';
import { Select, TextInput, Tick } from '../../ui/fields';
import { DEVICE } from '../../words/devices';
import { AT_A_TIME, writingOf } from '../wall';
import type { DeviceForm } from './deviceForm';

/** What a display shows, and how large. */
export function DisplayPart({ control }: { control: Control<DeviceForm> }) {
  return (
    <Paper component="section" aria-label={DEVICE.display} sx={{ p: 2 }}>
      <Stack spacing={2}>
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', sm: '1fr 200px' } }}>
          <Select
            control={control}
            name="charts"
            label={DEVICE.atATime}
            options={AT_A_TIME.map((n) => [String(n), DEVICE.readable(n, writingOf(n))] as const)}
          />
          <TextInput control={control} name="seconds" label={DEVICE.seconds} keys="numeric" />
        </Box>
        <Tick control={control} name="dark" label={DEVICE.dark} />
      </Stack>
    </Paper>
  );
}
