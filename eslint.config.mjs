import importX from 'eslint-plugin-import-x'
import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

/** Imports point one way; each line here is one wall of the house. */
const wall = (files, patterns, message, ignores = []) => ({
  files,
  ignores,
  rules: { 'no-restricted-imports': ['error', { patterns: [{ group: patterns, message }] }] },
})
const kernels = [
  'manifold-3d',
  'manifold-3d/*',
  'replicad-opencascadejs',
  'replicad-opencascadejs/*',
  'meshoptimizer',
  'meshoptimizer/*',
]
const screens = ['react', 'react-dom', 'react/*', 'next', 'next/*', '@react-three/*', 'react-bootstrap']

export default tseslint.config(
  { ignores: ['node_modules/**', '.next/**', '.build/**', '.data/**', 'next-env.d.ts', 'test-results/**'] },
  ...tseslint.configs.recommended,
  {
    plugins: { 'import-x': importX, 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      'import-x/no-duplicates': 'error',
      'react-hooks/refs': 'off',
      'react-hooks/set-state-in-effect': 'off',
      'react-hooks/immutability': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
    },
  },
  wall(
    ['src/core/**'],
    [
      ...kernels,
      ...screens,
      '@/server/*',
      '@/bench/*',
      '@/app/*',
      '@/cli/*',
      '@/demo/*',
      'node:*',
      'pg',
      'drizzle-orm',
      'drizzle-orm/*',
    ],
    'The core knows neither screens, databases nor the platform; only core/kernels knows the kernels.',
    ['src/core/kernels/**', '**/*.test.ts'],
  ),
  wall(
    ['src/core/kernels/**'],
    [...screens, '@/server/*', '@/bench/*', '@/app/*', '@/cli/*', '@/demo/*', 'node:*'],
    'The core knows neither screens nor the platform.',
  ),
  wall(
    ['src/bench/**'],
    [...kernels, '@/server/*', '@/app/*', '@/cli/*', '@/demo/*', 'node:*', 'pg', 'drizzle-orm'],
    'The bench knows the core only.',
    ['**/*.test.ts'],
  ),
  wall(
    ['src/server/**'],
    [...kernels, ...screens, '@/bench/*', '@/app/*', '@/cli/*'],
    'The server knows the core only.',
  ),
  wall(
    ['src/demo/**'],
    [...kernels, ...screens, '@/server/*', '@/bench/*', '@/app/*', '@/cli/*'],
    'The demo knows the core only.',
  ),
  wall(
    ['src/cli/**'],
    [...kernels, ...screens, '@/bench/*', '@/app/*', '@/server/*'],
    'The command line knows the core and the demo.',
  ),
  { files: ['src/**/*.{ts,tsx}'], ignores: ['**/*.test.ts'], rules: { 'max-lines': ['error', 620] } },
)
