import { Box, Typography } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useLocation } from 'react-router';
import type { Question, Sort } from '../../api/client';
import { queries } from '../../api/queries';
import { useMay } from '../../session/session';
import { idsIn } from '../../ui/address';
import { Empty, Loaded } from '../../ui/States';
import { type Address, useAddress } from '../../ui/useAddress';
import { STUDIES } from '../../words/studies';
import { AskCapability } from './AskCapability';
import { AskDefects } from './AskDefects';
import { AskDistribution } from './AskDistribution';
import { AskOverTime } from './AskOverTime';
import { AskRuleSets } from './AskRuleSets';
import { AskSideBySide } from './AskSideBySide';
import { KeepStudy } from './KeepStudy';
import { PATHS, questionIn } from './questions';
import { StudyBody } from './StudyBody';

const SORTS = Object.keys(PATHS) as Sort[];

/** A question answered at once from the data as they are; the address holds all of it. */
export default function AskPage() {
  const path = useLocation().pathname.split('/').pop() ?? '';
  const sort = SORTS.find((one) => PATHS[one] === path) ?? 'capability';
  const address = useAddress();
  const mayKeep = useMay('keep_study');
  const question = useMemo(() => questionIn(sort, address.params), [sort, address.params]);
  const { study } = idsIn(address.params, ['study']);
  const over = useQuery({ ...queries.study(study ?? ''), enabled: study !== undefined });
  if (question === null) return <Empty>{STUDIES.none}</Empty>;
  return (
    <Box>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        {STUDIES.asks[sort]}
      </Typography>
      <Ask question={question} address={address} />
      <Answered question={question} />
      {mayKeep && (study === undefined || over.data !== undefined) && (
        <KeepStudy key={study ?? ''} question={question} over={over.data ?? null} />
      )}
    </Box>
  );
}

function Ask({ question, address }: { question: Question; address: Address }) {
  switch (question.sort) {
    case 'capability':
      return <AskCapability key={question.of.characteristic} question={question} address={address} />;
    case 'distribution':
      return <AskDistribution key={question.of.characteristic} question={question} address={address} />;
    case 'defects':
      return <AskDefects key={question.of.characteristic} question={question} address={address} />;
    case 'side_by_side':
      return <AskSideBySide question={question} address={address} />;
    case 'rule_sets':
      return <AskRuleSets question={question} address={address} />;
    case 'over_time':
      return <AskOverTime key={question.of.characteristic} question={question} address={address} />;
  }
}

function Answered({ question }: { question: Question }) {
  const query = useQuery({ ...queries.studyAnswer(question), placeholderData: keepPreviousData });
  // What was answered before stays in sight while the next is found, but not where there is none.
  const seen = query.isError ? { ...query, data: undefined } : query;
  return (
    <Loaded query={seen} what={STUDIES.theAnswer}>
      {({ answer }) =>
        // Another sort was asked before.
        answer.sort === question.sort && (
          <Box sx={{ opacity: query.isPlaceholderData ? 0.55 : 1 }}>
            <StudyBody question={question} answer={answer} />
          </Box>
        )
      }
    </Loaded>
  );
}
