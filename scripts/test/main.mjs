/** `test`: format, lint, types, unit tests, checks and browser tests, beside each other; ends with one line of counts. */
import { mkdirSync } from 'node:fs'
import { bundle } from '../bundle.mjs'
import { Problem, say } from '../setup.mjs'
import { buildWeb } from '../start.mjs'
import { browserTests } from './browser.mjs'
import { jestTests } from './jest.mjs'
import { mutationTrial } from './mutation.mjs'
import { results, tool } from './tool.mjs'
import { tellTimes } from './times.mjs'

/** The web part, built once for all that start a bench. */
let built
const web = () => (built ??= buildWeb())

const parts = {
  unit: (only) => jestTests('unit', only.length ? only : ['src'], { workers: 2 }),
  checks: async (only) => {
    await web()
    return jestTests('checks', only.length ? only.map((o) => `checks/${o}`) : ['checks/[^/]+$'], { workers: 1 })
  },
  // What looks at the clock.
  alone: async () => {
    await web()
    return jestTests('alone', ['checks/alone/'], { workers: 1 })
  },
  e2e: async (only) => {
    await web()
    return browserTests('e2e', only, { demo: !!process.env.GLUE_BENCH_LONG })
  },
  // What kills and stops parts of a bench has one of its own.
  stops: async (only) => {
    await web()
    return browserTests('stops', only, { demo: false })
  },
  format: () => tool('format', 'oxfmt/bin/oxfmt', ['--check']),
  lint: () => tool('lint', 'eslint/bin/eslint.js', ['.', '--max-warnings', '0']),
  types: () => tool('types', 'typescript-native/bin/tsc', ['--noEmit']),
  mutation: (only) => mutationTrial(only),
}

/**
 * What runs beside what: rounds one after the other, and in each its lists at the same time. Where servers are waited for, number work
 * goes on; what is timed has to be alone; while parts are killed and come back, the other browser tests use the machine.
 */
const rounds = [[['types', 'format', 'lint', 'unit'], ['checks']], [['alone']], [['stops'], ['e2e']]]
/** In the long run only, and alone. */
const longRounds = [[['mutation']]]

export async function test(args) {
  const long = args[0] === 'long'
  if (long) {
    process.env.GLUE_BENCH_LONG = '1'
    args = args.slice(1)
  }
  const at = args.findIndex((a) => !(a in parts))
  if (at === 0) throw new Problem(`There is no part "${args[0]}". Parts: ${Object.keys(parts).join(', ')}, and long.`)
  const named = at < 0 ? args : args.slice(0, at)
  const rest = at > 0 ? args.slice(at) : []
  const wanted = named.length ? named : (long ? [...rounds, ...longRounds] : rounds).flat(2)
  mkdirSync(results, { recursive: true })
  await bundle()
  const from = Date.now()
  const done = []
  const run = async (name) => {
    const start = Date.now()
    say(`== ${name}`)
    let r
    try {
      r = await parts[name](rest)
    } catch (error) {
      say(`${name}: ${error.message}`)
      r = { passed: 0, failed: 1 }
    }
    const seconds = (Date.now() - start) / 1000
    say(`${name}: ${r.passed} passed, ${r.failed} failed in ${Math.round(seconds)} s`)
    done.push({ name, seconds, files: [], ...r })
  }
  const inTurn = async (names) => {
    for (const name of names.filter((n) => wanted.includes(n))) await run(name)
  }
  for (const lists of [...rounds, ...longRounds]) await Promise.all(lists.map(inTurn))
  tellTimes(done, (Date.now() - from) / 1000)
  const sum = (key) => done.reduce((n, p) => n + p[key], 0)
  process.stdout.write(`${sum('passed')} passed, ${sum('failed')} failed\n`)
  return sum('failed') ? 1 : 0
}
