/**
 * The mutation trial: of small changes to the core, drawn by a seed, how many die by the tests beside their room. A change is put in as the
 * source is loaded, so the tree stays as it is. `GLUE_BENCH_MUTANTS` and `GLUE_BENCH_SEED` set number and seed.
 */
import { spawn } from 'node:child_process'
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { Problem, root, say } from '../setup.mjs'
import { importsOf, reaches, sourcesBelow } from './imports.mjs'
import { mutantsOf } from './mutants.mjs'
import { results } from './tool.mjs'

const core = 'src/core'
/** At least so many of each room. */
const least = 3
/** Data and lists of files, in which nothing is computed. */
const listed = /(glyphs|\/all)\.ts$/
/** A change that makes its tests take so many times what they take as things are, and so many ms more, hangs them: it dies. */
const patience = 4
const more = 60_000
/** Longest time that all of them may take as things are, ms. */
const wholePatience = 1_800_000
/** The share that has to die. */
const bar = 0.8

const isTest = (file) => /\.test\.tsx?$/.test(file)
const roomOf = (file) => file.split('/')[2]

/** Numbers by a seed (Marsaglia's xorshift, 2003). */
function numbers(seed) {
  let x = seed * 2654435761 || 1
  return () => {
    x ^= x << 13
    x ^= x >>> 17
    x ^= x << 5
    return (x >>> 0) / 4294967296
  }
}

/** Some of all changes: a share of each room as large as its own of the core, and a few at least. */
function draw(all, count, seed) {
  const next = numbers(seed)
  const rooms = new Map()
  for (const m of all) {
    const room = roomOf(m.file)
    rooms.set(room, [...(rooms.get(room) ?? []), m])
  }
  return [...rooms.values()].flatMap((of) => {
    const left = [...of]
    const wanted = Math.max(least, Math.round((count * of.length) / all.length))
    return Array.from(
      { length: Math.min(wanted, of.length) },
      () => left.splice(Math.floor(next() * left.length), 1)[0],
    )
  })
}

/** Whether tests pass with a change, or as things are; those that hang do not. `out`: where their times go, if anywhere. */
function passes(mutant, tests, longest, out) {
  return new Promise((resolve) => {
    const child = spawn(
      process.execPath,
      [
        '--no-warnings',
        path.join(root, 'node_modules/jest/bin/jest.js'),
        ...(mutant ? ['--runInBand'] : ['--maxWorkers=2']),
        '--bail=1',
        '--silent',
        '--ci',
        `--testSequencer=${path.join(root, 'scripts/test/shortest-first.mjs')}`,
        ...(out ? ['--json', `--outputFile=${out}`] : []),
        '--runTestsByPath',
        ...tests,
      ],
      {
        cwd: root,
        stdio: 'ignore',
        env: { ...process.env, GLUE_BENCH_LONG: '', GLUE_BENCH_MUTANT: mutant ? JSON.stringify(mutant) : '' },
      },
    )
    const end = setTimeout(() => child.kill('SIGKILL'), longest)
    child.once('exit', (code) => {
      clearTimeout(end)
      resolve(code === 0)
    })
  })
}

/** Seconds that each test file takes as things are; null where one fails: it would kill anything. */
async function timesOf(tests) {
  const out = path.join(results, 'mutation-times.json')
  rmSync(out, { force: true })
  if (!(await passes(null, tests, wholePatience, out))) return null
  const { testResults } = JSON.parse(readFileSync(out, 'utf8'))
  return new Map(testResults.map((r) => [path.relative(root, r.name), (r.endTime - r.startTime) / 1000]))
}

/** Tries changes two at a time by the tests of their rooms that reach them; gives each with whether it lives, null where tests fail as things are. */
async function tried(changes, testsOf) {
  const times = await timesOf([...new Set(changes.flatMap(testsOf))])
  if (!times) return null
  const longest = (tests) => more + patience * 1000 * tests.reduce((sum, t) => sum + (times.get(t) ?? 0), 0)
  const open = [...changes]
  const outcomes = []
  const work = async () => {
    for (let m = open.shift(); m; m = open.shift()) {
      const tests = testsOf(m)
      const lives = !tests.length || (await passes(m, tests, longest(tests)))
      outcomes.push({ ...m, room: roomOf(m.file), lives, tests: tests.length })
      say(`${outcomes.length}/${changes.length} ${lives ? 'LIVES' : 'dies'}  ${m.file}:${m.line} ${m.what}`)
    }
  }
  await Promise.all([work(), work()])
  return outcomes
}

/** Says and keeps what came of a trial; gives the result of the part. */
function told(seed, outcomes) {
  if (!outcomes) {
    say('the tests do not pass as things are')
    return { passed: 0, failed: 1 }
  }
  const rooms = [...new Set(outcomes.map((o) => o.room))].sort().map((room) => {
    const own = outcomes.filter((o) => o.room === room)
    return { room, changes: own.length, died: own.filter((o) => !o.lives).length }
  })
  const died = outcomes.filter((o) => !o.lives).length
  const share = died / Math.max(1, outcomes.length)
  for (const r of rooms) say(`${r.room.padEnd(12)} ${r.died} of ${r.changes}`)
  say(`${died} of ${outcomes.length} changes died: ${(100 * share).toFixed(0)} %`)
  writeFileSync(kept, JSON.stringify({ seed, share, rooms, outcomes }, null, 1))
  return share >= bar ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 }
}

/** What the last trial came to. */
const kept = path.join(results, 'mutation.json')

/** `only`: rooms, or parts of file names; `again`: the changes of the last trial that lived, as far as their sources are the same. */
export async function mutationTrial(only) {
  const files = sourcesBelow('src')
  const imports = importsOf(files)
  const testsOf = (m) =>
    files.filter((f) => isTest(f) && f.startsWith(`${core}/${roomOf(m.file)}/`) && reaches(imports, f, m.file))
  if (only[0] === 'again') {
    if (!existsSync(kept)) throw new Problem('No trial was made here yet, so there is none to try again.')
    const { seed, outcomes } = JSON.parse(readFileSync(kept, 'utf8'))
    const stands = (m) => readFileSync(path.join(root, m.file), 'utf8').slice(m.start, m.end) === m.was
    const again = await tried(
      outcomes.filter((o) => o.lives && stands(o)),
      testsOf,
    )
    const key = (o) => `${o.file} ${o.start} ${o.text}`
    if (!again) return told(seed, null)
    const now = new Map(again.map((o) => [key(o), o]))
    return told(
      seed,
      outcomes.map((o) => now.get(key(o)) ?? o),
    )
  }
  const count = Number(process.env.GLUE_BENCH_MUTANTS ?? 200)
  const seed = Number(process.env.GLUE_BENCH_SEED ?? 1)
  const sources = files.filter(
    (f) =>
      f.startsWith(`${core}/`) && !isTest(f) && !listed.test(f) && (!only.length || only.some((o) => f.includes(o))),
  )
  const all = sources.flatMap((f) => mutantsOf(f, readFileSync(path.join(root, f), 'utf8')))
  const drawn = draw(all, count, seed)
  say(`${drawn.length} of ${all.length} changes`)
  return told(seed, await tried(drawn, testsOf))
}
