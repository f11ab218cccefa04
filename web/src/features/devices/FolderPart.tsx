import { Paper, Stack } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Control } from 'react-hook-form';
import type { Plan } from '../../api/client';
import { queries } from '../../api/queries';
import { Select, TextInput, Tick } from '../../ui/fields';
import { DEVICE } from '../../words/devices';
import type { DeviceForm } from './deviceForm';

/** Which tables come, how they are read, and what becomes of them. */
export function FolderPart({ control, form, plan }: { control: Control<DeviceForm>; form: DeviceForm; plan: Plan }) {
  const recipes = useQuery(queries.recipes).data;
  const here = plan.characteristics.filter((c) => c.analyte == null && form.stations.includes(c.station_id));
  return (
    <Paper component="section" aria-label={DEVICE.tables} sx={{ p: 2 }}>
      <Stack spacing={2}>
        <TextInput control={control} name="folder" label={DEVICE.folder} help={DEVICE.folderHelp} />
        <Select
          control={control}
          name="recipe"
          label={DEVICE.recipe}
          options={(recipes ?? []).map(({ id, name }) => [id, name])}
          help={recipes?.length === 0 ? DEVICE.noRecipes : ' '}
        />
        <Select
          control={control}
          name="characteristic"
          label={DEVICE.into}
          options={here.map((c) => [c.id, `${c.name} · ${c.product} · ${c.station}`])}
          help={form.stations.length === 0 ? DEVICE.stationsFirst : ' '}
        />
        <TextInput control={control} name="list" label={DEVICE.list} help={DEVICE.listHelp} />
        <TextInput control={control} name="withoutTags" label={DEVICE.withoutTags} help={DEVICE.withoutTagsHelp} />
        <Tick control={control} name="onlyRight" label={DEVICE.onlyRight} />
        <Tick control={control} name="follows" label={DEVICE.follows} />
      </Stack>
    </Paper>
  );
}
