/** The headless verbs. Only JSON goes to standard output; what a person reads goes to standard error. */
import { writeFileSync } from 'node:fs'
import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { isMainThread } from 'node:worker_threads'
import { reportError, StepError } from '@/core/base/step-error'
import { checkupFile } from './checkup'
import { convertFile } from './convert'
import { runRecipe } from './run'
import { listSteps, listStepsJson, stepsPage } from './steps'
import { soFar, watchOver } from './watch'
import { writeWhole } from './write-whole'

const usage = `usage:
  glue-bench run R.json [--in NAME=FILE]... [--out DIR] [--report FILE]
  glue-bench checkup FILE [--unit mm]
  glue-bench convert IN OUT [--unit mm] [--tolerance mm]
  glue-bench steps [--json | --markdown]
  glue-bench benchmark [--json] [NAME]...
  glue-bench demo-files DIR
`

const print = (value: unknown) => process.stdout.write(`${JSON.stringify(value, null, 2)}\n`)

class Usage extends Error {}

/** Verbs that read files of others, which may send a reader in circles. */
const watched = new Set(['run', 'checkup', 'convert'])

async function main(verb: string, args: string[]): Promise<number> {
  switch (verb) {
    case 'run': {
      const { values, positionals } = parseArgs({
        args,
        allowPositionals: true,
        options: { in: { type: 'string', multiple: true }, out: { type: 'string' }, report: { type: 'string' } },
      })
      if (positionals.length !== 1) throw new Usage('run takes one recipe file')
      const keep = (report: object) =>
        values.report ? writeWhole(values.report, `${JSON.stringify(report, null, 2)}\n`) : Promise.resolve()
      const report = await runRecipe(positionals[0], {
        inputs: values.in ?? [],
        out: values.out ?? '.',
        async onStep(now) {
          soFar(now)
          await keep(now)
        },
      })
      await keep(report)
      print(report)
      for (const s of report.steps)
        if (!s.ok) process.stderr.write(`step "${s.id}" (${s.kind}) failed: ${s.error?.message}\n`)
      return report.ok ? 0 : 1
    }
    case 'checkup': {
      const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { unit: { type: 'string' } } })
      if (positionals.length !== 1) throw new Usage('checkup takes one file')
      print(await checkupFile(positionals[0], values.unit))
      return 0
    }
    case 'convert': {
      const { values, positionals } = parseArgs({
        args,
        allowPositionals: true,
        options: { unit: { type: 'string' }, tolerance: { type: 'string' } },
      })
      if (positionals.length !== 2) throw new Usage('convert takes a file to read and a file to write')
      print(
        await convertFile(
          positionals[0],
          positionals[1],
          values.unit,
          values.tolerance === undefined ? undefined : Number(values.tolerance),
        ),
      )
      return 0
    }
    case 'steps': {
      const { values } = parseArgs({ args, options: { json: { type: 'boolean' }, markdown: { type: 'boolean' } } })
      if (values.markdown) process.stdout.write(stepsPage())
      else if (values.json) print(listStepsJson())
      else process.stdout.write(listSteps())
      return 0
    }
    case 'demo-files': {
      const { demoFiles, demoJobs } = await import('@/demo/scenario')
      const dir = args[0] ?? '.'
      await mkdir(dir, { recursive: true })
      for (const f of await demoFiles()) await writeFile(path.join(dir, f.name), f.bytes)
      for (const j of demoJobs)
        await writeFile(path.join(dir, `${j.key}.json`), `${JSON.stringify(j.recipe, null, 2)}\n`)
      print({ ok: true })
      return 0
    }
    default:
      throw new Usage(verb ? `there is no verb "${verb}"` : 'a verb is missing')
  }
}

const [verb = '', ...args] = process.argv.slice(2) // the wrapper hands its own arguments on
if (isMainThread && watched.has(verb))
  watchOver(
    fileURLToPath(import.meta.url),
    (report, done) => {
      print({ ...done, ok: false, error: report })
      process.stderr.write(`${report.message}\n`)
    },
    (done) => {
      const words = 'Stopped before it was done.'
      // Written at once: the process ends behind this.
      writeFileSync(
        1,
        `${JSON.stringify({ ...done, ok: false, error: { code: 'stopped', message: words } }, null, 2)}\n`,
      )
      writeFileSync(2, `${words}\n`)
    },
  )
else
  main(verb, args).then(
    (code) => {
      process.exitCode = code
    },
    (error: unknown) => {
      if (
        error instanceof Usage ||
        (error instanceof TypeError && 'code' in error && String(error.code).startsWith('ERR_PARSE_ARGS'))
      ) {
        process.stderr.write(`${error.message}\n${usage}`)
        process.exitCode = 2
        return
      }
      const missing = error instanceof Error && 'code' in error && error.code === 'ENOENT' && 'path' in error
      const report = missing
        ? { code: 'no-file', message: `There is no file "${String(error.path)}".` }
        : reportError(
            error instanceof SyntaxError
              ? new StepError('bad-recipe', `The recipe is not JSON: ${error.message}.`)
              : error,
          )
      print({ ok: false, error: report })
      process.stderr.write(`${report.message}\n`)
      process.exitCode = 1
    },
  )
