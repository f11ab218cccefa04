import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography, useTheme } from '@mui/material';
import { scaleLinear } from 'd3-scale';
import type { CapabilityAnswer, Split } from '../../api/client';
import { CAPABILITY, indexName, STANDING_MARKS, STANDINGS } from '../../words/capability';
import { figure } from '../../words/numbers';
import { splitName } from '../../words/studies';

const WIDTH = 220;

type Group = CapabilityAnswer['groups'][number];

/** Parts of the samples one under another: what their index is, and how sure, on one scale. */
export function Groups({
  answer,
  split,
  onGroup,
}: {
  answer: CapabilityAnswer;
  split: Split;
  onGroup: (group: string) => void;
}) {
  const { ink } = useTheme();
  const { groups, about, verdict, thresholds } = answer;
  const overall = verdict?.index === 'ppk';
  const indexOf = ({ capability: c }: Group) => (overall ? c?.ppk : c?.cpk) ?? null;
  const intervalOf = ({ capability: c }: Group) => (overall ? c?.intervals.ppk : c?.intervals.cpk) ?? null;
  const all = groups.flatMap((group) => [indexOf(group), ...(intervalOf(group) ?? [])]).filter((x) => x != null);
  const x = scaleLinear([Math.min(0, ...all), Math.max(thresholds.able + 0.3, ...all)], [8, WIDTH - 8]);
  return (
    <Box component="section" aria-label={CAPABILITY.groups} sx={{ overflowX: 'auto', position: 'relative' }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {CAPABILITY.groups}: {splitName(split)}
      </Typography>
      <Table size="small" sx={{ width: 'auto' }}>
        <TableHead>
          <TableRow>
            <TableCell>{CAPABILITY.group}</TableCell>
            <TableCell align="right">{CAPABILITY.samples}</TableCell>
            <TableCell align="right">{CAPABILITY.mean}</TableCell>
            <TableCell align="right">{CAPABILITY.sd}</TableCell>
            <TableCell align="right">{indexName(overall ? 'ppk' : 'cpk')}</TableCell>
            <TableCell padding="none">
              <svg width={WIDTH} height={22} role="img" aria-label={CAPABILITY.columns.interval}>
                {[thresholds.barely, thresholds.able].map((at) => (
                  <text key={at} x={x(at)} y={16} textAnchor="middle" fontSize={12} fill={ink.line}>
                    {figure(at, 2)}
                  </text>
                ))}
              </svg>
            </TableCell>
            <TableCell component="td" />
          </TableRow>
        </TableHead>
        <TableBody>
          {groups.map((group) => {
            const { capability: c, standing } = group;
            const [index, interval] = [indexOf(group), intervalOf(group)];
            return (
              <TableRow key={group.group.name}>
                <TableCell component="th" scope="row" padding="none">
                  <Button size="small" onClick={() => onGroup(group.group.name)}>
                    {group.group.name}
                  </Button>
                </TableCell>
                <TableCell align="right">{group.samples}</TableCell>
                <TableCell align="right">{figure(c?.mean, about.decimals + 1)}</TableCell>
                <TableCell align="right">{figure(c?.sigma_overall, about.decimals + 2)}</TableCell>
                <TableCell align="right">{c ? <strong>{figure(index, 2)}</strong> : CAPABILITY.tooFew}</TableCell>
                <TableCell padding="none">
                  <svg width={WIDTH} height={26} aria-hidden style={{ display: 'block' }}>
                    <path
                      d={`M${x(0)},22H${WIDTH}M${x(thresholds.barely)},2V22M${x(thresholds.able)},2V22`}
                      stroke={ink.faint}
                      fill="none"
                    />
                    {interval && (
                      <path d={`M${x(interval[0] ?? 0)},13H${x(interval[1] ?? 0)}`} stroke={ink.line} strokeWidth={2} />
                    )}
                    {index !== null && <circle cx={x(index)} cy={13} r={4.5} fill={ink.data} />}
                  </svg>
                  <Box
                    component="span"
                    sx={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}
                  >
                    {interval?.map((end) => figure(end, 2)).join(' … ')}
                  </Box>
                </TableCell>
                <TableCell>
                  {standing && (
                    <>
                      <span aria-hidden>{STANDING_MARKS[standing]}</span> {STANDINGS[standing]}
                    </>
                  )}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </Box>
  );
}
