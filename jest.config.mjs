export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/src', '<rootDir>/checks'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/jest-transform.mjs' },
  testTimeout: 120_000,
}
