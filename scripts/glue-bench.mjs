/** Dispatches the verbs. Headless verbs go straight to the bundle. */
import { spawnSync } from 'node:child_process'
import path from 'node:path'
import { installPackages, Problem, root, say } from './setup.mjs'

const [verb, ...args] = process.argv.slice(2)
const usage = `Glue Bench
  ./glue-bench start [--port N] [--data DIR] [--no-demo]   starts everything and prints the address
        [--host H [--certificate FILE --key FILE] [--new-pass-phrase]]   for use from other machines
  ./glue-bench backup FILE [--data DIR]                     all jobs in one file, of a running bench too
  ./glue-bench restore FILE [--data DIR]
  ./glue-bench test [long] [PART]... [FILE]...               runs the tests
  ./glue-bench run R.json [--in NAME=FILE]... [--out DIR] [--report FILE]
  ./glue-bench checkup FILE [--unit mm]
  ./glue-bench convert IN OUT [--unit mm] [--tolerance mm]
  ./glue-bench steps [--json]
  ./glue-bench benchmark [--json] [NAME]...
  ./glue-bench fuzz [--minutes N | --files N] [FORMAT]...   damages files of every format and reads them
  ./glue-bench demo-files DIR                               writes the demo's files and recipes
`

async function main() {
  switch (verb) {
    case 'start': {
      installPackages()
      const { start } = await import('./start.mjs')
      return start(args)
    }
    case 'backup':
    case 'restore': {
      installPackages()
      const { backup } = await import('./backup.mjs')
      return backup(verb, args)
    }
    case 'test': {
      installPackages()
      const { test } = await import('./test/main.mjs')
      process.exitCode = await test(args)
      return
    }
    case 'run':
    case 'checkup':
    case 'convert':
    case 'steps':
    case 'demo-files':
    case 'fuzz':
    case 'benchmark': {
      installPackages()
      const { bundle } = await import('./bundle.mjs')
      await bundle()
      if (verb === 'benchmark') {
        const { nativeProgram } = await import('./native.mjs')
        const both = args.includes('native-nets')
        const done = spawnSync(process.execPath, ['--expose-gc', path.join(root, '.build/benchmark.mjs'), ...args], {
          stdio: 'inherit',
          env: {
            ...process.env,
            GLUE_BENCH_NATIVE: both || args.includes('native') ? nativeProgram('compare') : '',
            GLUE_BENCH_NATIVE_QUADS: both ? nativeProgram('quads') : '',
          },
        })
        process.exitCode = done.status ?? 1
        return
      }
      if (verb === 'fuzz') {
        const done = spawnSync(process.execPath, [path.join(root, '.build/fuzz.mjs'), ...args], { stdio: 'inherit' })
        process.exitCode = done.status ?? 1
        return
      }
      await import(path.join(root, '.build/cli.mjs'))
      return
    }
    case undefined:
    case 'help':
    case '--help':
    case '-h':
      process.stdout.write(usage)
      return
    default:
      say(`There is no verb "${verb}".`)
      say(usage)
      process.exitCode = 2
  }
}

main().catch((error) => {
  if (error instanceof Problem) say(error.message)
  else if (error?.code?.startsWith?.('ERR_PARSE_ARGS')) say(`${error.message}\n${usage}`)
  else say(`Something went wrong: ${error?.message ?? error}`)
  process.exit(1)
})
