/** Browser tests, by Playwright, on a bench of their own. */
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { needChromium, needPostgres, root } from '../setup.mjs'
import { startAll } from '../start.mjs'
import { results, runNode } from './tool.mjs'

/** `project`: one of playwright.config.ts; `only`: names of files or parts of them. */
export async function browserTests(project, only, { demo }) {
  needPostgres()
  needChromium()
  const data = mkdtempSync(path.join(tmpdir(), 'glue-bench-test-'))
  let all = null
  try {
    all = await startAll({ data, demo, computeProcesses: 2 })
    const out = path.join(results, `${project}.json`)
    rmSync(out, { force: true })
    const code = await runNode(
      project,
      [
        path.join(root, 'node_modules/@playwright/test/cli.js'),
        'test',
        `--project=${project}`,
        ...(process.env.GLUE_BENCH_LONG ? [] : ['--grep-invert=@long']),
        '--pass-with-no-tests',
        ...only,
      ],
      {
        GLUE_BENCH_ADDRESS: all.address,
        GLUE_BENCH_DATA_FOLDER: all.data,
        PLAYWRIGHT_JSON_OUTPUT_FILE: out,
      },
    )
    if (!existsSync(out)) return { passed: 0, failed: 1 }
    const report = JSON.parse(readFileSync(out, 'utf8'))
    const failed = report.stats.unexpected + report.stats.flaky
    return {
      passed: report.stats.expected,
      failed: failed || (code === 0 ? 0 : 1),
      files: report.suites.map((s) => ({ file: `e2e/${s.file}`, seconds: secondsOf(s) })),
    }
  } finally {
    await all?.stop()
    rmSync(data, { recursive: true, force: true })
  }
}

const secondsOf = (suite) =>
  [
    ...suite.specs.flatMap((s) => s.tests.flatMap((t) => t.results.map((r) => r.duration / 1000))),
    ...(suite.suites ?? []).map(secondsOf),
  ].reduce((a, b) => a + b, 0)
