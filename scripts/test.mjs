/** `test`: format, lint, types, unit tests, checks and browser tests; ends with one line of counts. */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { needChromium, needPostgres, Problem, root, say } from './setup.mjs'
import { buildWeb, startAll } from './start.mjs'

const bin = (name) => path.join(root, 'node_modules/.bin', name)
const results = path.join(root, 'test-results')

function simple(name, command, args) {
  say(`== ${name}`)
  const done = spawnSync(command, args, { cwd: root, stdio: ['ignore', 2, 2] })
  return done.status === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}

function jest(name, folder, env = {}) {
  say(`== ${name}`)
  const out = path.join(results, `${name}.json`)
  rmSync(out, { force: true })
  const done = spawnSync(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      '--max-old-space-size=6144',
      path.join(root, 'node_modules/jest/bin/jest.js'),
      '--json',
      `--outputFile=${out}`,
      '--silent',
      ...folder,
    ],
    { cwd: root, stdio: ['ignore', 'ignore', 2], env: { ...process.env, ...env } },
  )
  if (!existsSync(out)) return { passed: 0, failed: 1 }
  const r = JSON.parse(readFileSync(out, 'utf8'))
  return {
    passed: r.numPassedTests,
    failed:
      r.numFailedTests +
      r.numRuntimeErrorTestSuites +
      (done.status !== 0 && r.numFailedTests + r.numRuntimeErrorTestSuites === 0 ? 1 : 0),
  }
}

async function browser(only) {
  needPostgres()
  needChromium()
  const data = mkdtempSync(path.join(tmpdir(), 'glue-bench-test-'))
  let all = null
  try {
    all = await startAll({ data, demo: true, computeProcesses: 2 })
    say('== e2e')
    const out = path.join(results, 'e2e.json')
    rmSync(out, { force: true })
    // Not a blocking call: this process must be free to start killed compute processes again.
    const code = await new Promise((resolve) => {
      spawn(bin('playwright'), ['test', ...only], {
        cwd: root,
        stdio: ['ignore', 2, 2],
        env: { ...process.env, GLUE_BENCH_ADDRESS: all.address, GLUE_BENCH_DATA_FOLDER: all.data },
      }).once('exit', resolve)
    })
    if (!existsSync(out)) return { passed: 0, failed: 1 }
    const { stats } = JSON.parse(readFileSync(out, 'utf8'))
    const failed = stats.unexpected + stats.flaky
    return { passed: stats.expected, failed: failed || (code !== 0 ? 1 : 0) }
  } finally {
    await all?.stop()
    rmSync(data, { recursive: true, force: true })
  }
}

const parts = {
  format: () => simple('format', bin('prettier'), ['--check', '.', '--log-level', 'warn']),
  lint: () => simple('lint', bin('eslint'), ['.', '--max-warnings', '0']),
  types: () => simple('types', bin('tsc'), ['--noEmit']),
  unit: (only) => jest('unit', ['--maxWorkers=2', ...(only.length ? only : ['src'])]),
  checks: async (only) => {
    await buildWeb() // once, before several of them start a bench
    // One after the other: some of them measure times.
    return jest('checks', ['--runInBand', ...(only.length ? only.map((o) => `checks/${o}`) : ['checks'])])
  },
  e2e: (only) => browser(only),
}

export async function test(args) {
  const at = args.findIndex((a) => !(a in parts))
  const wanted = at === 0 || args.length === 0 ? Object.keys(parts) : at < 0 ? args : args.slice(0, at)
  const rest = at > 0 ? args.slice(at) : []
  if (at === 0) throw new Problem(`There is no part "${args[0]}". Parts: ${Object.keys(parts).join(', ')}.`)
  mkdirSync(results, { recursive: true })
  await bundle()
  let passed = 0,
    failed = 0
  for (const name of wanted) {
    const from = Date.now()
    let r
    try {
      r = await parts[name](rest)
    } catch (error) {
      say(error.message)
      r = { passed: 0, failed: 1 }
    }
    say(`${name}: ${r.passed} passed, ${r.failed} failed in ${Math.round((Date.now() - from) / 1000)} s`)
    passed += r.passed
    failed += r.failed
  }
  process.stdout.write(`${passed} passed, ${failed} failed\n`)
  return failed ? 1 : 0
}
