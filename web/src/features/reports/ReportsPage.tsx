import { Box, Button, Link, Stack, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Report } from '../../api/client';
import { queries, type ReportAsked } from '../../api/queries';
import { Empty, Loaded } from '../../ui/States';
import { useAddress } from '../../ui/useAddress';
import { lineCount, REPORTS } from '../../words/reports';
import { Ask } from './Ask';
import { askedOf, fileOf } from './asked';
import { Paged } from './Paged';

/** What happened in a period, as a whole: on the screen, on paper, as a file. */
export default function ReportsPage() {
  const asked = askedOf(useAddress().params);
  return (
    <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
      <Box sx={{ displayPrint: 'none' }}>
        <Typography variant="h1">{REPORTS.title}</Typography>
        <Ask />
      </Box>
      {asked === null ? <Empty>{REPORTS.choose}</Empty> : <Made key={JSON.stringify(asked)} asked={asked} />}
    </Box>
  );
}

function Made({ asked }: { asked: ReportAsked }) {
  const query = useQuery(queries.report(asked));
  return (
    <Loaded query={query} what={REPORTS.what}>
      {(report) => (
        <>
          <Stack direction="row" sx={{ gap: 2, alignItems: 'center', flexWrap: 'wrap', my: 1.5, displayPrint: 'none' }}>
            <Typography role="status" sx={{ flex: 1 }}>
              {REPORTS.lines(lineCount(report))}
            </Typography>
            <Link href={fileOf(asked, 'csv')} download>
              {REPORTS.csv}
            </Link>
            <Link href={fileOf(asked, 'xlsx')} download>
              {REPORTS.sheet}
            </Link>
            <Button color="inherit" onClick={() => keepSeal(report)}>
              {REPORTS.seal}
            </Button>
            <Button variant="contained" onClick={() => window.print()}>
              {REPORTS.print}
            </Button>
          </Stack>
          <Paged report={report} />
          <Typography color="text.secondary" variant="body2" sx={{ mt: 1, displayPrint: 'none' }}>
            {REPORTS.sealHelp}
          </Typography>
        </>
      )}
    </Loaded>
  );
}

/** The seal as the file that `nuvek verify-trail --against` takes; its digest is what the report names. */
function keepSeal({ head }: Report) {
  const url = URL.createObjectURL(new Blob([head.seal], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `seal-${head.digest.slice(0, 12)}.json`;
  link.click();
  // Once the browser has taken it.
  window.setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
