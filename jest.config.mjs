/** Tests run as plain modules of Node.js, many files in one process: no sandbox, which makes number code slow and loads everything anew for each file. */
export default {
  runner: 'jest-light-runner/child-process',
  setupFiles: ['<rootDir>/scripts/test/loading/setup.mjs'],
  roots: ['<rootDir>/src', '<rootDir>/checks'],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
}
