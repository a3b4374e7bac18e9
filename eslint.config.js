import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist/', 'examples/', 'test/fixtures/', 'test/jobs/', 'scripts/', 'eslint.config.js'] },
  ...tseslint.configs.strictTypeChecked,
  {
    languageOptions: { parserOptions: { project: './tsconfig.json' } },
    rules: {
      // Offsets and counts go into messages all the time.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true }],
      // Index access is checked by the compiler (noUncheckedIndexedAccess); `!` is where the code knows better.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-meaningless-void-operator': 'off',
      // Node types of the syntax tree are compared by their names.
      '@typescript-eslint/no-unsafe-enum-comparison': 'off',
      '@typescript-eslint/switch-exhaustiveness-check': 'off',
      '@typescript-eslint/no-unnecessary-condition': 'off',
      '@typescript-eslint/prefer-promise-reject-errors': 'off',
    },
  },
);
