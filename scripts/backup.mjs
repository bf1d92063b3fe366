/** `backup` and `restore`: all jobs, files, bodies and history in one file, of a bench that runs or rests. */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, renameSync, rmSync, statSync } from 'node:fs'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { bundle } from './bundle.mjs'
import { claim, runningOn } from './data-folder.mjs'
import { beside, databaseAt, dropIncoming, exchange, incoming, makeIncoming, recoverLive } from './exchange.mjs'
import { startPostgres } from './postgres.mjs'
import { needPostgres, Problem, root, say } from './setup.mjs'

const size = (file) => `${(statSync(file).size / 2 ** 20).toFixed(1)} MB`

/** Calls `work` with the address of the folder's database: of the bench that runs on it, or of a server started for this only. */
async function withDatabase(folder, work) {
  const running = runningOn(folder)
  if (running) {
    if (!running.database)
      throw new Problem('The bench on this folder is just starting or stopping: try again in a moment.')
    return work(running.database)
  }
  const { data, release } = claim(folder)
  let server = null
  try {
    server = await startPostgres(data)
    return await work(server.url)
  } finally {
    await server?.stop()
    release()
  }
}

/** Runs one of PostgreSQL's programs; the password goes by the environment, where others cannot read it. */
function tool(name, url, args) {
  const { hostname, port, username, password, pathname } = new URL(url)
  return new Promise((resolve, reject) => {
    const child = spawn(path.join(needPostgres(), name), args, {
      env: {
        ...process.env,
        ...{ PGHOST: hostname, PGPORT: port, PGUSER: username, PGPASSWORD: password, PGDATABASE: pathname.slice(1) },
      },
      stdio: ['ignore', 'ignore', 'pipe'],
    })
    let said = ''
    child.stderr.on('data', (d) => (said = (said + d).slice(-4000)))
    child.once('error', reject)
    child.once('exit', (code) =>
      code === 0
        ? resolve()
        : reject(new Problem(`${name} failed: ${said.trim().split('\n').at(-1) || `code ${code}`}`)),
    )
  })
}

/** Writes everything to one file, as of one moment; the file is there whole or not at all. */
export async function backupTo(folder, file) {
  const part = `${file}.part`
  try {
    await withDatabase(folder, (url) => tool('pg_dump', url, ['--format=custom', '--no-owner', '--file', part]))
    renameSync(part, file)
  } finally {
    rmSync(part, { force: true })
  }
}

/**
 * Brings everything back from a backup in place of what is there; a bench that runs goes on with it. It is read into a database of its own
 * first, so that a damaged file changes nothing; what was there before is kept beside it until the next restore.
 */
export async function restoreFrom(folder, file) {
  if (!existsSync(file)) throw new Problem(`There is no file ${file}.`)
  const listed = spawnSync(path.join(needPostgres(), 'pg_restore'), ['--list', file], { encoding: 'utf8' })
  if (listed.status !== 0 || !/TABLE public revisions /.test(listed.stdout))
    throw new Problem(`${file} is no backup of a bench, or is damaged. Nothing was changed.`)
  await bundle()
  await withDatabase(folder, (url) =>
    beside(url, async (client) => {
      const live = new URL(url).pathname.slice(1)
      await recoverLive(client, live)
      await makeIncoming(client)
      try {
        await tool('pg_restore', databaseAt(url, incoming), [
          `--dbname=${incoming}`,
          ...['--no-owner', '--exit-on-error', file],
        ]).catch((e) => {
          throw new Problem(`The backup cannot be read whole, so nothing was changed. ${e.message}`)
        })
        const migrated = spawnSync(process.execPath, [path.join(root, '.build/migrate.mjs')], {
          cwd: root,
          env: { ...process.env, GLUE_BENCH_DATABASE: databaseAt(url, incoming) },
          encoding: 'utf8',
        })
        if (migrated.status !== 0)
          throw new Problem(
            `The backup comes from a version this one cannot read. Nothing was changed. ${migrated.stderr}`,
          )
        await exchange(client, live)
      } finally {
        await dropIncoming(client).catch(() => {})
      }
    }),
  )
}

/** The verbs. */
export async function backup(verb, args) {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { data: { type: 'string' } } })
  if (positionals.length !== 1) throw new Problem(`${verb} takes one file.`)
  const folder = path.resolve(values.data ?? path.join(root, '.data'))
  const file = path.resolve(positionals[0])
  if (verb === 'backup') {
    if (!existsSync(path.join(folder, 'postgres'))) throw new Problem(`There is no bench in ${folder}.`)
    await backupTo(folder, file)
    say(`everything in ${folder} is in ${file}, ${size(file)}`)
  } else {
    await restoreFrom(folder, file)
    say(`${folder} is as it was in ${file}; what was there before is kept until the next restore`)
  }
}
