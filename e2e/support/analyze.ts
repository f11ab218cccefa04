import { execFileSync } from 'node:child_process';
import { BINARY } from './nuvek';

/** What the command answers, which no screen has a part in. */
export function analyze<Answer>(request: object): Answer {
  return JSON.parse(execFileSync(BINARY, ['analyze'], { input: JSON.stringify(request) }).toString()) as Answer;
}
