import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { Link as RouterLink, useNavigate, useParams } from 'react-router';
import type { ChartView } from '../../api/chart';
import { queries } from '../../api/queries';
import { ControlChart } from '../../chart/ControlChart';
import { Legend } from '../../chart/Legend';
import { standsFor } from '../../chart/model';
import { KeyHints } from '../../ui/KeyHints';
import { Notice } from '../../ui/Notice';
import { Empty, Loaded } from '../../ui/States';
import { type Address, useAddress } from '../../ui/useAddress';
import { CHART_KEYS, CHART_PAGE } from '../../words/charts';
import { LOOK, lookInWords } from '../../words/look';
import { pointInWords, seenInWords } from '../../words/reading';
import { STRETCH } from '../../words/stretch';
import { NO_STRETCH, scalesSeen, shownIn, stretchIn } from './address';
import { ChartHead } from './ChartHead';
import { ChosenPoint } from './ChosenPoint';
import { ChosenStretch } from './ChosenStretch';
import { Figures } from './Figures';
import { PointsTable } from './PointsTable';
import { PrintedNotes } from './PrintedNotes';
import { SeenBar } from './SeenBar';
import { TakeOut } from './TakeOut';
import { tagValues, toldBy } from './tags';
import { TrustCheck } from './TrustCheck';
import { useClose } from './useClose';
import { useDetail } from './useDetail';

/** The whole address says what is on the screen: which points, how closely, what is left out, the chosen one. */
export default function ChartPage() {
  const { id = '' } = useParams();
  return <ChartOf key={id} id={id} />;
}

function ChartOf({ id }: { id: string }) {
  const address = useAddress();
  const query = useQuery({ ...queries.chart(id, stretchIn(address.params)), placeholderData: keepPreviousData });
  return (
    <Loaded query={query} what={CHART_PAGE.chart}>
      {(view) => <Chart view={view} address={address} />}
    </Loaded>
  );
}

function Chart({ view, address }: { view: ChartView; address: Address }) {
  const { characteristic: c } = view;
  return (
    <Box>
      <ChartHead view={view} />
      {view.look && (
        <Box sx={{ mb: 1.5 }}>
          <Notice kind="caution">
            {lookInWords(view.look)}{' '}
            <Link component={RouterLink} to={`/charts/${c.id}/limits`} color="inherit">
              {LOOK.toLimits}
            </Link>
          </Notice>
        </Box>
      )}
      {view.places === 0 ? (
        <Empty>{view.total === 0 ? CHART_PAGE.noSample : CHART_PAGE.noneThere}</Empty>
      ) : (
        <Drawn view={view} address={address} />
      )}
    </Box>
  );
}

function Drawn({ view, address }: { view: ChartView; address: Address }) {
  const navigate = useNavigate();
  const drawn = useRef<HTMLDivElement>(null);
  const { params, put } = address;
  const [close, onClose] = useClose(view.marks, address);
  const { model: known, detail } = useDetail(view, close);
  const sample = params.get('sample');
  // The way from the entry page leads into the form; another point that is chosen is only looked at.
  const [correct, setCorrect] = useState(params.get('correct') === '1');
  const through = params.get('through');
  // Where there is no Shift key, the next point that is touched ends the stretch.
  const [extending, setExtending] = useState(false);
  const choose = (number: number | null, extend: boolean) => {
    setCorrect(false);
    setExtending(false);
    const on = (extend || extending) && sample !== null && number !== null && String(number) !== sample;
    if (on) put({ through: String(number) }, true);
    else put({ sample: number === null ? null : String(number), through: null }, true);
  };
  const hide = params.get('hide');
  const shown = useMemo(() => shownIn(hide), [hide]);
  const scale = params.get('scale');
  const kept = view.characteristic.scales;
  const tag = params.get('tag');
  const hidesTraces = (hide ?? '').split(',').includes('components');
  const values = useMemo(() => (tag === null ? [] : tagValues(view, tag)), [view, tag]);
  const model = useMemo(() => {
    const scales = scalesSeen(scale, kept);
    return {
      ...known,
      traces: hidesTraces ? [] : known.traces,
      panels: known.panels.map((panel) => ({ ...panel, scale: scales[panel.statistic] })),
      told: tag === null || values.length === 0 ? undefined : toldBy(tag, values, [view, detail], known),
    };
  }, [known, scale, kept, hidesTraces, tag, values, view, detail]);
  const found = sample === null ? -1 : model.number.indexOf(Number(sample));
  const selected = found === -1 ? null : found;
  const foundEnd = through === null ? -1 : model.number.indexOf(Number(through));
  const end = selected === null || foundEnd === -1 ? null : foundEnd;
  const thinned = view.marks.place.length < view.places;
  return (
    <Box
      sx={{
        display: { xs: 'flex', lg: 'grid' },
        flexDirection: 'column',
        gridTemplateColumns: 'minmax(0, 1fr) 312px',
        gap: 2,
        alignItems: { xs: 'stretch', lg: 'start' },
      }}
    >
      <Paper component="section" aria-label={CHART_PAGE.title} sx={{ p: { xs: 0.75, sm: 1.5 }, pt: 1, minWidth: 0 }}>
        <SeenBar view={view} model={model} close={close} onClose={onClose} address={address}>
          <TakeOut view={view} model={model} address={params} close={close} drawn={drawn} />
        </SeenBar>
        {values.length > 0 && <Legend values={values} />}
        <div ref={drawn}>
          <ControlChart
            model={model}
            height={540}
            selected={selected}
            through={end}
            onSelect={(mark, extend) => choose(mark === null ? null : (model.number[mark] ?? null), extend)}
            onOpenEpisode={(episode) => void navigate(`/signals/${episode}`)}
            window={close}
            onWindow={onClose}
            overview
            shown={shown}
            read={(mark) => pointInWords(model, mark, [detail, view])}
          />
        </div>
        <Typography color="text.secondary" variant="body2" sx={{ mt: 1 }}>
          {seenInWords(view)} {thinned && CHART_PAGE.thinned(model.place.length, view.places, view.flags_thinned)}
          {selected !== null && standsFor(model, selected) > 1 && CHART_PAGE.standsFor(standsFor(model, selected))}
        </Typography>
        <Typography
          color="text.secondary"
          variant="body2"
          sx={{ mt: 0.5, display: { xs: 'none', md: 'block' }, displayPrint: 'none' }}
        >
          <KeyHints hints={CHART_KEYS} />
        </Typography>
        <PrintedNotes view={view} />
        {params.get('table') === '1' && <PointsTable view={detail ?? view} model={model} close={close} />}
      </Paper>
      {/* Where it would stand below the chart, the card of a point lies over its lower part. */}
      <Stack
        spacing={2}
        sx={
          sample === null
            ? {}
            : {
                position: { xs: 'sticky', lg: 'static' },
                bottom: 8,
                zIndex: 2,
                maxHeight: { xs: '62vh', lg: 'none' },
                overflowY: { xs: 'auto', lg: 'visible' },
              }
        }
      >
        {sample === null ? (
          <>
            <Figures view={view} />
            <Box sx={{ displayPrint: 'none' }}>
              <TrustCheck id={view.characteristic.id} />
            </Box>
          </>
        ) : end !== null && selected !== null ? (
          <ChosenStretch
            model={model}
            characteristic={view.characteristic.id}
            marks={[Math.min(selected, end), Math.max(selected, end)]}
            onClose={onClose}
            onAway={() => choose(null, false)}
          />
        ) : (
          <>
            <ChosenPoint
              key={sample}
              number={Number(sample)}
              views={[detail, view]}
              correct={correct}
              onAll={() => put({ ...NO_STRETCH, last: 'all' })}
            />
            <Button
              color="inherit"
              disabled={extending || selected === null}
              onClick={() => setExtending(true)}
              sx={{ displayPrint: 'none' }}
            >
              {extending ? STRETCH.untilNow : STRETCH.until}
            </Button>
          </>
        )}
      </Stack>
    </Box>
  );
}
