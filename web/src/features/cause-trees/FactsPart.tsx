import { Box, Paper, TextField, Typography } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type CauseTreeView, type Facts } from '../../api/client';
import { touch } from '../../api/touches';
import { Failed } from '../../ui/Failed';
import { TREES } from '../../words/trees';

const FACTS = ['what', 'place', 'since', 'share', 'cost'] as const;

/** The problem in facts; each is kept when its field is left. */
export function FactsPart({ tree, mayChange }: { tree: CauseTreeView; mayChange: boolean }) {
  const client = useQueryClient();
  const [facts, setFacts] = useState<Facts>(tree.facts);
  const keep = useMutation({
    mutationFn: (changed: Facts) =>
      answered(
        api.PUT('/api/cause-trees/{id}', {
          params: { path: { id: tree.id } },
          body: { version: tree.version, name: tree.name, facts: changed },
        }),
      ),
    onSuccess: () => touch(client, { kind: 'cause_tree', tree: tree.id }),
  });
  return (
    <Paper component="section" aria-label={TREES.statement} sx={{ p: 2, mb: 2 }}>
      <Typography variant="h2" sx={{ mb: 1.5 }}>
        {TREES.statement}
      </Typography>
      <Box sx={{ display: 'grid', gap: 1.25, gridTemplateColumns: 'repeat(auto-fit, minmax(220px, 1fr))' }}>
        {FACTS.map((fact) =>
          mayChange ? (
            <TextField
              key={fact}
              size="small"
              multiline
              label={TREES.facts[fact]}
              placeholder={TREES.notKnown}
              value={facts[fact]}
              slotProps={{ htmlInput: { maxLength: 2000 }, inputLabel: { shrink: true } }}
              onChange={(event) => setFacts({ ...facts, [fact]: event.target.value })}
              onBlur={() => {
                if (facts[fact] !== tree.facts[fact]) keep.mutate(facts);
              }}
            />
          ) : (
            <Box key={fact}>
              <Typography variant="body2" color="text.secondary">
                {TREES.facts[fact]}
              </Typography>
              <Typography>{facts[fact] === '' ? TREES.notKnown : facts[fact]}</Typography>
            </Box>
          ),
        )}
      </Box>
      <Failed why={keep.error} />
    </Paper>
  );
}
