import { Box, Button, Link, Paper, Stack, Typography } from '@mui/material';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link as RouterLink, useNavigate } from 'react-router';
import { answered, api, type Bench, type RunView } from '../../api/client';
import { factsOf, type Failure } from '../../api/failure';
import { queries } from '../../api/queries';
import { touch } from '../../api/touches';
import { usePerson } from '../../session/session';
import { device } from '../../device/id';
import { useOutbox } from '../../outbox/Outbox';
import { Failed } from '../../ui/Failed';
import { KeyHints } from '../../ui/KeyHints';
import { Notice } from '../../ui/Notice';
import { whyWaiting } from '../../words/failures';
import { LAB, missingInWords } from '../../words/lab';
import { RUN_ENTRY } from '../../words/run';
import { OpenEpisodes } from '../signals';
import { AnalyserOffers } from './AnalyserOffers';
import { LevelChart } from './LevelChart';
import {
  asMeant,
  askedAboutRun,
  cellsOf,
  freshRun,
  isBlankRun,
  keepRun,
  loadRun,
  nextBlank,
  type RunDraft,
  takeOver,
  typedRun,
} from './runDraft';
import { refusedCells, RunGrid } from './RunGrid';
import { OutcomeMark } from './OutcomeMark';

/** One control run, entered in any order and judged as it is typed. */
export function RunEntry({ bench, repeats }: { bench: Bench; repeats: RunView | null }) {
  const { id: person } = usePerson();
  const { submit, waiting } = useOutbox();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [draft, setDraft] = useState<RunDraft>(() => loadRun(person, bench.station));
  const [failure, setFailure] = useState<Failure | null>(null);
  const [sending, setSending] = useState(false);
  const [waits, setWaits] = useState<Failure | null>(null);
  const cells = useMemo(() => cellsOf(bench), [bench]);
  const [focused, setFocused] = useState(cells[0] ?? '');
  const fields = useRef(new Map<string, HTMLInputElement>());
  useEffect(() => keepRun(person, bench.station, draft), [person, bench.station, draft]);
  // The page was left between keeping the run and clearing the grid: it is not to be entered twice.
  if (!sending && waiting.some((w) => w.entry === draft.entry)) setDraft(freshRun());

  const results = useMemo(() => typedRun(draft, bench), [draft, bench]);
  const preview = useQuery({
    queryKey: queries.runPreview(
      bench.station,
      results.map(({ characteristic, result }) => [characteristic, result]),
    ),
    enabled: results.length > 0,
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) => {
      const so_far = results.map(({ characteristic, result }) => ({ characteristic, result }));
      return answered(
        api.POST('/api/stations/{id}/runs/preview', {
          params: { path: { id: bench.station } },
          body: { results: so_far },
          signal,
        }),
      );
    },
  });
  const judged = results.length > 0 ? preview.data : undefined;
  const missing = judged?.judgements.flatMap((j) => j.missing.map((level) => RUN_ENTRY.level(j.name, level))) ?? [];
  const refused = factsOf(failure, 'results_refused')?.refused ?? judged?.refused ?? [];
  const doubted = factsOf(failure, 'confirm_results')?.unusual;
  const meant = doubted?.flatMap(({ unusual: [first] }) => first?.likely ?? []) ?? [];
  const change = (how: (d: RunDraft) => RunDraft) => {
    if (sending) return;
    setFailure(null);
    setWaits(null);
    setDraft(how);
  };

  const save = async (confirmed = false, given = draft) => {
    const results = typedRun(given, bench);
    if (sending || results.length === 0) return;
    setSending(true);
    setFailure(null);
    const body = {
      device: device(),
      entry: given.entry,
      repeats: repeats?.id ?? null,
      results,
      offers: Object.values(given.offers),
      confirmed,
    };
    const title = RUN_ENTRY.waiting(bench.name, results.length);
    const outcome = await submit({ what: 'run', target: bench.station, body }, title, {
      takenAt: given.takenAt,
      onKept: () => keepRun(person, bench.station, freshRun()),
    });
    setSending(false);
    if (outcome.kind === 'refused') {
      const asked = factsOf(outcome.failure, 'confirm_results')?.unusual ?? [];
      const now = askedAboutRun(
        given,
        asked.map(({ characteristic }) => characteristic),
      );
      keepRun(person, bench.station, now);
      setDraft(now);
      setFailure(outcome.failure);
      return;
    }
    setDraft(freshRun());
    void touch(client, { kind: 'run', station: bench.station });
    if (outcome.kind === 'waiting') {
      setWaits(outcome.failure);
    } else if (outcome.run) {
      client.setQueryData(queries.run(outcome.run.id).queryKey, outcome.run);
      void navigate(`/lab/runs/${outcome.run.id}`);
    }
  };

  const offers = useQuery(queries.offers(bench.station));
  const analyte = bench.analytes.find((a) => a.levels.some((l) => l.characteristic === focused));
  const level = analyte?.levels.find((l) => l.characteristic === focused);
  const ofAnalyte = judged?.judgements.find((j) => j.analyte === analyte?.id);
  const result = ofAnalyte?.results.find((r) => r.characteristic === focused);
  const flagged = level !== undefined && (ofAnalyte?.findings.some((f) => f.levels.includes(level.name)) ?? false);
  const value = result?.value;
  const typed = useMemo(() => (value === undefined ? null : { value, flagged }), [value, flagged]);
  return (
    <Stack spacing={2}>
      <OpenEpisodes of={cells} />
      <Paper component="section" aria-label={LAB.controlRun} sx={{ p: 2, py: 1 }}>
        {draft.takenAt !== null && <Notice kind="caution">{RUN_ENTRY.firstMeasured(draft.takenAt)}</Notice>}
        <AnalyserOffers
          offers={(offers.data ?? []).filter(
            (o) =>
              (draft.results[o.characteristic ?? ''] ?? '').trim() === '' && cells.includes(o.characteristic ?? ''),
          )}
          onTake={(taken) => change((d) => takeOver(d, taken))}
        />
        <RunGrid
          bench={bench}
          draft={draft}
          judgements={judged?.judgements ?? []}
          refused={refusedCells(refused)}
          fields={fields}
          onType={(cell, text) => change((d) => ({ ...d, results: { ...d.results, [cell]: text } }))}
          onLot={(which, id, lot) => change((d) => ({ ...d, [which]: { ...d[which], [id]: lot } }))}
          onFocus={setFocused}
          onEnter={(cell) => {
            const next = nextBlank(cells, draft, cell);
            if (next === null) void save();
            else fields.current.get(next)?.focus();
          }}
        />
        <Stack
          direction="row"
          sx={{ gap: 2, alignItems: 'center', flexWrap: 'wrap', borderTop: 1, borderColor: 'divider', pt: 1 }}
        >
          <Button
            variant="contained"
            size="large"
            disabled={sending || isBlankRun(draft)}
            onClick={() => void save()}
            sx={{ minHeight: 54 }}
          >
            {RUN_ENTRY.save}
          </Button>
          <Box role="status" sx={{ flex: 1 }}>
            {judged && judged.judgements.length > 0 && (
              <>
                <Box component="span" sx={{ color: 'text.secondary' }}>
                  {RUN_ENTRY.asTyped}{' '}
                </Box>
                <OutcomeMark outcome={judged.outcome} /> {missing.length > 0 && <span>{missingInWords(missing)}</span>}
              </>
            )}
          </Box>
          <Typography color="text.secondary" variant="body2">
            <KeyHints hints={RUN_ENTRY.keys} />
          </Typography>
        </Stack>
        {doubted && (
          <Notice kind="caution">
            {doubted.flatMap(({ characteristic, unusual }) =>
              unusual.map((u) => (
                <Typography key={characteristic}>{RUN_ENTRY.unusual(nameOf(bench, characteristic), u)}</Typography>
              )),
            )}
            <Stack direction="row" sx={{ gap: 1, mt: 0.5, flexWrap: 'wrap' }}>
              {meant.length > 0 && (
                <Button
                  variant="contained"
                  sx={{ minHeight: 48 }}
                  onClick={() => {
                    const mended = asMeant(draft, doubted);
                    setDraft(mended);
                    void save(false, mended);
                  }}
                >
                  {RUN_ENTRY.meant(meant)}
                </Button>
              )}
              <Button variant="outlined" color="inherit" sx={{ minHeight: 48 }} onClick={() => void save(true)}>
                {RUN_ENTRY.keepIt}
              </Button>
            </Stack>
          </Notice>
        )}
        {failure?.code !== 'confirm_results' && <Failed why={failure} />}
        {waits && (
          <Notice kind="caution">
            {whyWaiting(waits)} {RUN_ENTRY.isKept}{' '}
            <Link component={RouterLink} to="/waiting">
              {RUN_ENTRY.seeWaiting}
            </Link>
          </Notice>
        )}
      </Paper>
      {level && analyte && (
        <Paper component="section" aria-label={LAB.chart} sx={{ p: 2 }}>
          <LevelChart key={level.characteristic} level={level} analyte={analyte.name} typed={typed} />
        </Paper>
      )}
    </Stack>
  );
}

/** The analyte and level of a result, with the decimals that it is typed with. */
function nameOf(bench: Bench, characteristic: string): { name: string; decimals: number } {
  for (const analyte of bench.analytes) {
    const level = analyte.levels.find((one) => one.characteristic === characteristic);
    if (level) return { name: RUN_ENTRY.level(analyte.name, level.name), decimals: analyte.decimals };
  }
  return { name: '', decimals: 0 };
}
