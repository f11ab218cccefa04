import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';
import wordsOnly from './lint/words-only.js';

export default ts.config(
  { ignores: ['dist', 'public', 'src/api/schema.d.ts', 'eslint.config.js', '.dependency-cruiser.mjs', 'lint'] },
  js.configs.recommended,
  ts.configs.strictTypeChecked,
  ts.configs.stylisticTypeChecked,
  hooks.configs.flat.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      // Numbers in sentences are the point of this application.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      // Handlers of events are started, not awaited; their failures are shown by the mutation.
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['src/words/**', 'src/**/*.test.ts'],
    plugins: { nuvek: { rules: { 'words-only': wordsOnly } } },
    rules: { 'nuvek/words-only': 'error' },
  },
);
