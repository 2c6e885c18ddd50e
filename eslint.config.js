import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['frontend/public/**', 'frontend/build/**', 'frontend/shared/api/schema.d.ts', 'src/**', 'node_modules/**'] },
  ...tseslint.configs.strict,
  {
    files: ['frontend/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
    },
  },
);
