import { Box, Paper, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries';
import { Loaded } from '../../ui/States';
import { TRUST, type Verdict, verdicts } from '../../words/trust';

const MARKS: Record<Verdict['verdict'], string> = { good: '✓', caution: '◆', poor: '▲', not_applicable: '–' };

/** Can this chart be trusted: each check with its verdict, what was found, and what to do. */
export function TrustCheck({ id }: { id: string }) {
  const query = useQuery(queries.trust(id));
  return (
    <Paper component="section" aria-label={TRUST.title} sx={{ p: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {TRUST.title}
      </Typography>
      <Loaded query={query} what={TRUST.what}>
        {(view) =>
          view === null ? (
            <Typography color="text.secondary">{TRUST.none}</Typography>
          ) : (
            <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 1 }}>
              {verdicts(view).map((check) => (
                <Check key={check.name} {...check} />
              ))}
            </Box>
          )
        }
      </Loaded>
    </Paper>
  );
}

function Check({ name, verdict, found, todo }: Verdict) {
  return (
    <Box component="li" sx={{ display: 'flex', gap: 1.25 }}>
      <Box
        component="span"
        aria-hidden
        sx={(theme) => ({
          width: '1.1em',
          color: {
            good: theme.palette.settled,
            caution: theme.palette.warning.main,
            poor: theme.palette.error.main,
            not_applicable: theme.palette.text.secondary,
          }[verdict],
        })}
      >
        {MARKS[verdict]}
      </Box>
      <Box>
        <Typography>
          <strong>{name}.</strong> {found}
        </Typography>
        {todo !== null && <Typography color="text.secondary">{todo}</Typography>}
      </Box>
    </Box>
  );
}
