import { Box } from '@mui/material';
import {
  type ArrayPath,
  type Control,
  type FieldPath,
  type FieldValues,
  useFieldArray,
  useWatch,
} from 'react-hook-form';
import { Select, TextInput, Tick } from '../../ui/fields';
import { PANELS } from '../../words/ruleSets';
import { PARAMETER_NAMES, RULES_OFFERED } from '../../words/setUpForm';
import { PARAMETERS, type RuleRow } from './form';

/** Rules of location alone: they say nothing of a spread. */
const LOCATION_ONLY: readonly RuleRow['kind'][] = ['m_of_n', 'hugging', 'avoiding'];

/** Rules chosen one by one, with their parameters and the panels that each looks at. */
export function RuleList<F extends FieldValues & { rules: RuleRow[] }>({ control }: { control: Control<F> }) {
  const { fields } = useFieldArray({ control, name: 'rules' as ArrayPath<F> });
  const rules: readonly RuleRow[] = useWatch({ control, name: 'rules' as FieldPath<F> });
  const name = (path: string) => path as FieldPath<F>;
  return (
    <Box sx={{ gridColumn: '1 / -1', display: 'grid', gap: 0.5 }}>
      {fields.map(({ id }, place) => {
        const row = rules[place];
        if (!row) return null;
        return (
          <Box key={id} sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', minHeight: 48 }}>
            <Tick
              control={control}
              name={name(`rules.${place}.on`)}
              label={RULES_OFFERED[row.kind]}
              sx={{ flex: '1 1 320px' }}
            />
            {PARAMETERS.filter((parameter) => row[parameter] !== null).map((parameter) => (
              <TextInput
                key={parameter}
                control={control}
                name={name(`rules.${place}.${parameter}`)}
                label={PARAMETER_NAMES[parameter]}
                spoken={`${RULES_OFFERED[row.kind]}: ${PARAMETER_NAMES[parameter]}`}
                keys="decimal"
                size="small"
                disabled={!row.on}
                sx={{ width: 96 }}
              />
            ))}
            {LOCATION_ONLY.includes(row.kind) ? (
              <Box sx={{ width: 150 }} />
            ) : (
              <Select
                control={control}
                name={name(`rules.${place}.panels`)}
                label={PANELS.label}
                size="small"
                disabled={!row.on}
                sx={{ width: 150 }}
                options={[
                  ['all', PANELS.all],
                  ['location', PANELS.location],
                  ['dispersion', PANELS.dispersion],
                ]}
              />
            )}
          </Box>
        );
      })}
    </Box>
  );
}
