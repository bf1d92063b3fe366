/**
 * Lets plain Node load the project's sources for tests: TypeScript, the "@/" paths, names without endings. Preloaded into the workers of the
 * test runner, which run test files in Node itself; number code in a sandbox of its own would be four to five times slower, and every file
 * would start its own kernels.
 */
import { register } from 'node:module'

register('./test-loader-hooks.mjs', import.meta.url)
