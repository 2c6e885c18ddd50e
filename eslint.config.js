import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const WRITTEN = ['frontend/shared/api/schema.d.ts', 'frontend/shared/api/contract.ts', 'frontend/shared/engine/generated.ts'];

export default tseslint.config(
  { ignores: ['frontend/public/**', 'frontend/build/**', ...WRITTEN, 'src/**', 'node_modules/**'] },
  ...tseslint.configs.strictTypeChecked,
  {
    files: ['frontend/**/*.{ts,tsx}'],
    languageOptions: {
      parserOptions: { project: ['frontend/tsconfig.json', 'frontend/tsconfig.worker.json'], tsconfigRootDir: import.meta.dirname },
    },
    plugins: { 'react-hooks': hooks, 'jsx-a11y': a11y },
    rules: {
      ...hooks.configs.recommended.rules,
      ...a11y.flatConfigs.recommended.rules,
      'jsx-a11y/label-has-associated-control': ['error', { controlComponents: ['Select', 'Input', 'Input.TextArea', 'InputNumber', 'DatePicker', 'AutoComplete', 'Switch'], depth: 3 }],
      // Words stand in the catalogues.
      'no-restricted-syntax': [
        'error',
        { selector: 'JSXText[value=/[A-Za-z]{2}/]', message: 'Put these words into the catalogue.' },
        {
          selector: 'JSXAttribute[name.name=/^(title|label|okText|aria-label|alt|extra)$/] > Literal[value=/[A-Za-z]{2}/]',
          message: 'Put these words into the catalogue.',
        },
      ],
      // The first field of a dialog is where whoever opened it wants to write.
      'jsx-a11y/no-autofocus': 'off',
      // A wide table that scrolls by itself is scrolled with the keyboard.
      'jsx-a11y/no-noninteractive-tabindex': ['error', { roles: ['tabpanel', 'region'], tags: [] }],
    },
  },
  { files: ['frontend/**/*.test.tsx'], rules: { 'no-restricted-syntax': 'off' } },
);
