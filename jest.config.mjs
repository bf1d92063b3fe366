export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/src', '<rootDir>/checks'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^@react-three/fiber$': '<rootDir>/src/testing/fiber.ts',
    '^@/(.*)$': '<rootDir>/src/$1',
  },
  // Number code of packages as well: what the transform does for speed is the same for them.
  transform: {
    '^.+\\.tsx?$': '<rootDir>/scripts/test/jest-transform.mjs',
    'node_modules/(robust-predicates|delaunator|earcut|@kninnug/constrainautor)/.+\\.m?js$':
      '<rootDir>/scripts/test/jest-transform.mjs',
  },
  transformIgnorePatterns: ['/node_modules/(?!(robust-predicates|delaunator|earcut|@kninnug/constrainautor)/)'],
  testTimeout: 120_000,
}
