/** Unit tests and checks, by Jest. */
import { existsSync, readFileSync, rmSync } from 'node:fs'
import path from 'node:path'
import { root } from '../setup.mjs'
import { results, runNode } from './tool.mjs'

/** `files`: paths or parts of them. */
export async function jestTests(name, files, { workers }) {
  const out = path.join(results, `${name}.json`)
  rmSync(out, { force: true })
  const code = await runNode(name, [
    '--no-warnings',
    '--max-old-space-size=6144',
    path.join(root, 'node_modules/jest/bin/jest.js'),
    '--json',
    `--outputFile=${out}`,
    '--silent',
    ...(workers === 1 ? ['--runInBand'] : [`--maxWorkers=${workers}`]),
    ...files,
  ])
  if (!existsSync(out)) return { passed: 0, failed: 1 }
  const r = JSON.parse(readFileSync(out, 'utf8'))
  const failed = r.numFailedTests + r.numRuntimeErrorTestSuites
  return {
    passed: r.numPassedTests,
    failed: failed || (code === 0 ? 0 : 1),
    files: r.testResults.map((f) => ({
      file: path.relative(root, f.name),
      seconds: (f.endTime - f.startTime) / 1000,
    })),
  }
}
