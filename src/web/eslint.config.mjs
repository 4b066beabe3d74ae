import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', 'src/api/generated', '*.config.ts', 'eslint.config.mjs'] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  jsxA11y.flatConfigs.strict,
  reactHooks.configs.flat['recommended-latest'],
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      // What scrolls must be reached by the keyboard.
      'jsx-a11y/no-noninteractive-tabindex': ['error', { tags: [], roles: ['tabpanel', 'region'] }],
      // A table that is edited is a grid (WAI-ARIA Authoring Practices).
      'jsx-a11y/no-noninteractive-element-to-interactive-role': ['error', { table: ['grid'], td: ['gridcell'] }],
      'jsx-a11y/label-has-associated-control': ['error', { controlComponents: ['Choose', 'TickBox'] }],
      // The reading field and the find box are where the hand already is.
      'jsx-a11y/no-autofocus': 'off',
    },
  },
);
