import {
  Box,
  Button,
  Link,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
  useTheme,
} from '@mui/material';
import { Link as RouterLink } from 'react-router';
import type { Behind, DefectsAnswer, Question } from '../../api/client';
import { useMay } from '../../session/session';
import { useAddress } from '../../ui/useAddress';
import { DEFECTS, defectsInWords, ratioInWords } from '../../words/defects';
import { grouped } from '../../words/numbers';
import { splitName } from '../../words/studies';
import { weightParam } from './questions';
import { Typed } from './Typed';
import { useBehind } from './useBehind';

type Asked = Extract<Question, { sort: 'defects' }>;
type Bar = DefectsAnswer['bars'][number];

/** Width of the drawing in each row. */
const WIDTH = 320;

const nameOf = ({ name, kinds }: Bar) => name ?? DEFECTS.others(kinds);

/** Kinds from the largest down: each a row with its bar, its figures, and the ways on from it. */
export function DefectsStudy({ question, answer }: { question: Asked; answer: DefectsAnswer }) {
  const [show, panel] = useBehind(0);
  const { bars, groups, weighted, against } = answer;
  const open = (bar: Bar, narrowed: Omit<Behind, 'of'> = {}) =>
    show(nameOf(bar), question.of, { ...(bar.name != null && { kind: bar.name }), ...narrowed });
  return (
    <Stack spacing={2} sx={{ minWidth: 0 }}>
      <Paper component="section" aria-label={DEFECTS.title} sx={{ p: 2 }}>
        {defectsInWords(answer).map((sentence, i) => (
          <Typography key={sentence} {...(i === 0 && { variant: 'h2' })} sx={{ mb: 0.5 }}>
            {sentence}
          </Typography>
        ))}
        {bars.length > 0 && (
          <Box sx={{ overflowX: 'auto', mt: 1.5 }}>
            <Table
              size="small"
              aria-label={DEFECTS.title}
              sx={{ minWidth: 640, '& td.MuiTableCell-alignRight': { whiteSpace: 'nowrap' } }}
            >
              <TableHead>
                <TableRow>
                  <TableCell>{DEFECTS.kind}</TableCell>
                  <TableCell aria-hidden />
                  <TableCell align="right">{DEFECTS.count}</TableCell>
                  {weighted && <TableCell align="right">{DEFECTS.weighted}</TableCell>}
                  <TableCell align="right">{DEFECTS.share}</TableCell>
                  <TableCell align="right">{DEFECTS.cumulative}</TableCell>
                  <TableCell align="right">{DEFECTS.rate}</TableCell>
                  {against && <TableCell align="right">{DEFECTS.rateThere}</TableCell>}
                  {against && <TableCell>{DEFECTS.ratio}</TableCell>}
                  <TableCell sx={{ displayPrint: 'none' }}>{DEFECTS.further}</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {bars.map((bar) => (
                  <Row key={nameOf(bar)} bar={bar} answer={answer} question={question} onOpen={() => open(bar)} />
                ))}
              </TableBody>
            </Table>
          </Box>
        )}
        {bars.length > 0 && (
          <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
            {DEFECTS.drawn}
          </Typography>
        )}
      </Paper>
      {panel}
      {question.split && groups.length > 0 && (
        <Paper component="section" aria-label={DEFECTS.matrix} sx={{ p: 2 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {DEFECTS.matrix}: {splitName(question.split)}
          </Typography>
          <Matrix answer={answer} onOpen={(bar, group) => open(bar, { group, split: question.split ?? null })} />
        </Paper>
      )}
    </Stack>
  );
}

function Row({
  bar,
  answer,
  question,
  onOpen,
}: {
  bar: Bar;
  answer: DefectsAnswer;
  question: Asked;
  onOpen: () => void;
}) {
  const { ink } = useTheme();
  const { put, params } = useAddress();
  const mayStart = useMay('keep_study');
  const { weighted, against } = answer;
  const most = Math.max(...answer.bars.map(({ share }) => share), 0.01);
  const asking = params.has('of');
  const before = bar.cumulative - bar.share;
  return (
    <TableRow>
      <TableCell component="th" scope="row" sx={{ minWidth: 130 }}>
        {nameOf(bar)}
      </TableCell>
      <TableCell padding="none">
        <svg
          width={WIDTH}
          height={34}
          role="button"
          tabIndex={0}
          aria-label={DEFECTS.barSays(nameOf(bar), bar.count, bar.share, bar.cumulative)}
          style={{ display: 'block', cursor: 'pointer' }}
          onClick={onOpen}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== ' ') return;
            event.preventDefault();
            onOpen();
          }}
        >
          <rect
            x={0}
            y={6}
            width={Math.max(2, (WIDTH * bar.share) / most)}
            height={15}
            fill={ink.data}
            fillOpacity={0.3}
            stroke={ink.line}
          />
          {/* The share of all so far grows from the left: each step begins where the one before it ended. */}
          <path d={`M0,28H${WIDTH}`} stroke={ink.faint} />
          <path d={`M${WIDTH * before},28H${WIDTH * bar.cumulative}`} stroke={ink.data} strokeWidth={4} />
        </svg>
      </TableCell>
      <TableCell align="right">{grouped(bar.count)}</TableCell>
      {weighted && <TableCell align="right">{grouped(bar.weighted)}</TableCell>}
      <TableCell align="right">
        <strong>{DEFECTS.shareIs(bar.share)}</strong>
      </TableCell>
      <TableCell align="right">{DEFECTS.shareIs(bar.cumulative)}</TableCell>
      <TableCell align="right">{DEFECTS.perThousand(bar.rate)}</TableCell>
      {against && <TableCell align="right">{bar.against ? DEFECTS.perThousand(bar.against.rate) : '–'}</TableCell>}
      {against && (
        <TableCell sx={{ minWidth: 190, fontWeight: bar.against?.ratio.beyond_chance ? 600 : 400 }}>
          {bar.against ? ratioInWords(bar.against.ratio) : '–'}
        </TableCell>
      )}
      <TableCell sx={{ displayPrint: 'none' }}>
        {bar.name != null && (
          <Stack direction="row" sx={{ gap: 1.5, alignItems: 'center', justifyContent: 'flex-end' }}>
            {asking && (
              <Typed
                label={DEFECTS.weight}
                value={params.get(weightParam(bar.name)) ?? ''}
                placeholder={DEFECTS.unweighted}
                onTyped={(weight) => put({ [weightParam(bar.name ?? '')]: weight })}
              />
            )}
            <Link
              component={RouterLink}
              to={`/charts/${question.of.characteristic}/look?defect=${encodeURIComponent(bar.name)}`}
              sx={{ whiteSpace: 'nowrap' }}
            >
              {DEFECTS.trend}
            </Link>
            {mayStart && (
              <Link component={RouterLink} to={treeOf(bar, answer)} sx={{ whiteSpace: 'nowrap' }}>
                {DEFECTS.tree}
              </Link>
            )}
          </Stack>
        )}
      </TableCell>
    </TableRow>
  );
}

/** A cause tree of this kind, with what is known of it already. */
function treeOf({ name, count, share }: Bar, { about, totals }: DefectsAnswer): string {
  const params = new URLSearchParams({
    of: about.id,
    defect: name ?? '',
    name: `${name ?? ''}: ${about.name}`.slice(0, 80),
    what: `${name ?? ''}, ${about.product}`,
    place: about.station,
    share: DEFECTS.shareOfAll(count, share, totals.count),
  });
  return `/cause-trees/new?${params.toString()}`;
}

/** Kinds down, parts across: the more of a kind, the darker. */
function Matrix({ answer, onOpen }: { answer: DefectsAnswer; onOpen: (bar: Bar, group: string) => void }) {
  const { ink } = useTheme();
  const { bars, groups } = answer;
  const most = Math.max(1, ...groups.flatMap(({ counts }) => counts));
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="group" aria-label={DEFECTS.matrix}>
      <Table size="small" sx={{ width: 'auto' }}>
        <TableHead>
          <TableRow>
            <TableCell>{DEFECTS.kind}</TableCell>
            {groups.map(({ name }) => (
              <TableCell key={name} align="right" sx={{ whiteSpace: 'nowrap' }}>
                {name}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {bars.map((bar, i) => (
            <TableRow key={nameOf(bar)}>
              <TableCell component="th" scope="row" sx={{ whiteSpace: 'nowrap' }}>
                {nameOf(bar)}
              </TableCell>
              {groups.map(({ name, counts }) => (
                <TableCell key={name} align="right" padding="none" sx={{ position: 'relative' }}>
                  <Box
                    aria-hidden
                    sx={{
                      position: 'absolute',
                      inset: 2,
                      bgcolor: ink.data,
                      opacity: 0.28 * ((counts[i] ?? 0) / most),
                    }}
                  />
                  <Button
                    size="small"
                    color="inherit"
                    aria-label={`${nameOf(bar)}, ${name}: ${counts[i] ?? 0}`}
                    disabled={(counts[i] ?? 0) === 0}
                    onClick={() => onOpen(bar, name)}
                    sx={{ minWidth: 44, position: 'relative' }}
                  >
                    {counts[i] ?? 0}
                  </Button>
                </TableCell>
              ))}
            </TableRow>
          ))}
          <TableRow>
            <TableCell component="th" scope="row">
              {DEFECTS.rate}
            </TableCell>
            {groups.map(({ name, totals }) => (
              <TableCell key={name} align="right">
                {DEFECTS.perThousand(totals.rate)}
              </TableCell>
            ))}
          </TableRow>
        </TableBody>
      </Table>
    </Box>
  );
}
