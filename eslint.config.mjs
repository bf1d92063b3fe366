import importX from 'eslint-plugin-import-x'
import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

const kernels = [
  'manifold-3d',
  'manifold-3d/*',
  'replicad-opencascadejs',
  'replicad-opencascadejs/*',
  'meshoptimizer',
  'meshoptimizer/*',
]
const screens = ['react', 'react-dom', 'react/*', 'next', 'next/*', '@react-three/*', 'react-bootstrap']
const database = ['pg', 'drizzle-orm', 'drizzle-orm/*', 'graphile-worker']
const platform = ['node:*', 'fs', 'path', 'os', 'crypto', 'worker_threads']

/** Imports point one way; each of these is one wall of the house. */
const wall = (files, patterns, message, ignores = []) => ({
  files,
  ignores,
  rules: { 'no-restricted-imports': ['error', { patterns: [{ group: patterns, message }] }] },
})

/**
 * The rooms of the core from the ground up: a room uses what stands below its own level. Rooms on one level are
 * independent of each other, so no circle of rooms can come to be.
 */
const levels = [
  ['math'],
  ['base'],
  ['mesh', 'outline'],
  ['gauge', 'subdivision'],
  ['bodies'],
  ['kernels'],
  ['kinds'],
  ['arrange', 'find', 'formats', 'report', 'surface', 'trace'],
  ['fit', 'mend'],
  ['join', 'place', 'prove'],
  ['holes', 'split'],
  ['scan', 'section', 'skin'],
  ['clean', 'net'],
  ['cage'],
  ['step'],
  ['steps'],
  ['recipe'],
]
const rooms = levels.flatMap((level, i) =>
  level.map((room) => {
    const above = levels
      .slice(i)
      .flat()
      .filter((r) => r !== room)
    const outside = [
      '@/server/*',
      '@/bench/*',
      '@/app/*',
      '@/cli/*',
      '@/demo/*',
      '@/testing/*',
      ...screens,
      ...database,
    ]
    const higher = above.flatMap((r) => [`@/core/${r}/*`, `@/core/${r}/**`, `../${r}/*`, `../../${r}/*`])
    return wall(
      [`src/core/${room}/**`],
      [...outside, ...platform, ...higher, ...(room === 'kernels' ? [] : kernels)],
      `core/${room} imports only rooms on levels below its own; only core/kernels knows the kernels, and the core no screen, database or platform.`,
      ['**/*.test.ts'],
    )
  }),
)

export default tseslint.config(
  { ignores: ['node_modules/**', '.next/**', '.build/**', '.data/**', 'next-env.d.ts', 'test-results/**'] },
  ...tseslint.configs.recommended,
  {
    plugins: { 'import-x': importX },
    rules: {
      'import-x/no-duplicates': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
    },
  },
  {
    files: ['src/bench/**', 'src/app/**'],
    plugins: { 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      'react-hooks/refs': 'off',
      'react-hooks/set-state-in-effect': 'off',
      'react-hooks/immutability': 'off',
    },
  },
  // A new room has to be given its place in the levels above.
  {
    files: ['src/core/*/**'],
    ignores: levels.flat().map((r) => `src/core/${r}/**`),
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'Program', message: 'This room of the core has no level in eslint.config.mjs.' },
      ],
    },
  },
  ...rooms,
  wall(
    ['src/bench/**'],
    [...kernels, ...platform, ...database, '@/server/*', '@/app/*', '@/cli/*', '@/demo/*'],
    'The bench knows the core only.',
    ['**/*.test.ts', '**/*.test.tsx'],
  ),
  wall(
    ['src/server/**'],
    [...kernels, ...screens, '@/bench/*', '@/app/*', '@/cli/*'],
    'The server knows the core only.',
    ['**/*.test.ts', 'src/server/web/main.ts'], // the one that starts the framework
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
    ['**/*.test.ts'],
  ),
  {
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    rules: { 'max-lines': ['error', 620] },
  },
  {
    files: ['src/**/*.{ts,tsx}', 'scripts/**/*.mjs'],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    rules: { 'max-lines-per-function': ['error', 80], complexity: ['error', { max: 25, variant: 'modified' }] },
  },
)
