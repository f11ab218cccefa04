import type { Question, StudyAnswer } from '../../api/client';
import { CapabilityStudy } from './CapabilityStudy';
import { DefectsStudy } from './DefectsStudy';
import { DistributionStudy } from './DistributionStudy';
import { OverTimeStudy } from './OverTimeStudy';
import { RuleSetsStudy } from './RuleSetsStudy';
import { SideBySideStudy } from './SideBySideStudy';

/** What was found, in the form that its question asks for. */
export function StudyBody({ question: q, answer: a }: { question: Question; answer: StudyAnswer }) {
  if (q.sort === 'capability' && a.sort === q.sort) return <CapabilityStudy question={q} answer={a} />;
  if (q.sort === 'distribution' && a.sort === q.sort) return <DistributionStudy question={q} answer={a} />;
  if (q.sort === 'defects' && a.sort === q.sort) return <DefectsStudy question={q} answer={a} />;
  if (q.sort === 'side_by_side' && a.sort === q.sort) return <SideBySideStudy question={q} answer={a} />;
  if (q.sort === 'rule_sets' && a.sort === q.sort) return <RuleSetsStudy answer={a} />;
  if (q.sort === 'over_time' && a.sort === q.sort) return <OverTimeStudy question={q} answer={a} />;
  return null;
}
