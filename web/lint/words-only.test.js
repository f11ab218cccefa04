import { RuleTester } from 'eslint';
import { describe, it } from 'vitest';
import wordsOnly from './words-only.js';

RuleTester.describe = describe;
RuleTester.it = it;

const said = [{ messageId: 'said' }];

new RuleTester({ languageOptions: { parserOptions: { ecmaFeatures: { jsx: true } } } }).run('words-only', wordsOnly, {
  valid: [
    '<p>{ROUND.title}</p>',
    '<p><kbd>Enter</kbd> · ◆ {n}</p>',
    "<Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto' }} component=\"section\" />",
    '<Link to={`/charts/${id}`} aria-label={label}>{last ? a : b}</Link>',
    "<p>{state === 'open' && <Open />}</p>",
    "if (event.key === 'Enter') go('/rounds');",
  ],
  invalid: [
    { code: '<p>Save sample</p>', errors: said },
    { code: '<TextField label="Name" />', errors: said },
    { code: "<p>{count === 1 ? 'signal' : 'signals'}</p>", errors: [...said, ...said] },
    { code: '<section aria-label={`Sample ${n}`} />', errors: said },
    { code: "z.string().min(1, 'The note is empty.')", errors: said },
    { code: 'const title = `Control run, ${bench}`;', errors: said },
  ],
});
