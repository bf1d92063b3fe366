/** `start`: everything from the database to the browser's address, and a clean end. */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync, readdirSync, statSync } from 'node:fs'
import { createHash } from 'node:crypto'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { bundle } from './bundle.mjs'
import { freePort, startPostgres } from './postgres.mjs'
import { ensureDir, Problem, root, say } from './setup.mjs'

/** Changes whenever a source of the web part does. */
function sourceMark() {
  const hash = createHash('sha256')
  const walk = (dir) => {
    for (const e of readdirSync(dir, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const p = path.join(dir, e.name)
      if (e.isDirectory()) walk(p)
      else hash.update(p).update(readFileSync(p))
    }
  }
  walk(path.join(root, 'src'))
  for (const f of ['package-lock.json', 'next.config.ts', 'tsconfig.json'])
    if (existsSync(path.join(root, f)) && statSync(path.join(root, f)).isFile())
      hash.update(readFileSync(path.join(root, f)))
  return hash.digest('hex')
}

export function buildWeb() {
  const mark = path.join(root, '.next', 'glue-bench-sources')
  const now = sourceMark()
  if (existsSync(mark) && readFileSync(mark, 'utf8') === now) return
  say('building (a minute or so, only when the sources changed)')
  const done = spawnSync(process.execPath, [path.join(root, 'node_modules/next/dist/bin/next'), 'build'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  })
  if (done.status !== 0)
    throw new Problem(`The build failed:\n${`${done.stdout}\n${done.stderr}`.trim().split('\n').slice(-40).join('\n')}`)
  writeFileSync(mark, now)
}

/** Starts all parts; gives the address, the compute processes and a way to stop. */
export async function startAll({ data, port, demo, computeProcesses = 1 }) {
  ensureDir(data)
  const children = []
  const postgres = await startPostgres(data)
  let stopping = false
  const stop = async () => {
    if (stopping) return
    stopping = true
    await Promise.all(
      children.map(
        (c) =>
          new Promise((resolve) => {
            if (c.exitCode !== null || c.signalCode) return resolve()
            c.once('exit', resolve)
            c.kill('SIGTERM')
            setTimeout(() => c.kill('SIGKILL'), 4000).unref()
          }),
      ),
    )
    await postgres.stop()
  }
  try {
    const env = {
      ...process.env,
      GLUE_BENCH_DATABASE: postgres.url,
      NEXT_TELEMETRY_DISABLED: '1',
      NODE_ENV: 'production',
    }
    await bundle()
    const prepared = spawnSync(process.execPath, [path.join(root, '.build/migrate.mjs'), ...(demo ? ['--demo'] : [])], {
      cwd: root,
      env,
      stdio: ['ignore', 2, 2],
    })
    if (prepared.status !== 0) throw new Problem('The database could not be made ready.')
    buildWeb()
    const compute = () => {
      const c = spawn(process.execPath, ['--enable-source-maps', path.join(root, '.build/compute.mjs')], {
        cwd: root,
        env,
        stdio: ['ignore', 2, 2],
        detached: true,
      })
      children.push(c)
      // A compute process that dies is started again; its work goes back to the queue.
      c.once('exit', () => {
        children.splice(children.indexOf(c), 1)
        if (!stopping)
          setTimeout(() => {
            if (!stopping) compute()
          }, 500)
      })
      return c
    }
    for (let i = 0; i < computeProcesses; i++) compute()
    const webPort = port ?? (await freePort())
    const web = spawn(
      process.execPath,
      [path.join(root, 'node_modules/next/dist/bin/next'), 'start', '-H', '127.0.0.1', '-p', String(webPort)],
      { cwd: root, env, stdio: ['ignore', 'ignore', 2], detached: true },
    )
    children.push(web)
    let died = false
    web.once('exit', () => {
      died = true
    })
    const address = `http://127.0.0.1:${webPort}`
    for (let i = 0; ; i++) {
      if (died)
        throw new Problem(`The web server did not start. Is port ${webPort} in use? Choose another with --port.`)
      const up = await fetch(`${address}/api/health`).then(
        (r) => r.ok,
        () => false,
      )
      if (up) break
      if (i > 300) throw new Problem('The web server did not start within 60 s.')
      await new Promise((r) => setTimeout(r, 200))
    }
    return { address, stop, env, postgres, computePids: () => children.filter((c) => c !== web).map((c) => c.pid) }
  } catch (error) {
    await stop()
    throw error
  }
}

export async function start(args) {
  const { values } = parseArgs({
    args,
    options: {
      port: { type: 'string' },
      data: { type: 'string' },
      demo: { type: 'boolean' },
      'no-demo': { type: 'boolean' },
    },
  })
  const port = Number(values.port ?? 4173)
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Problem(`--port ${values.port} is no port number.`)
  const data = path.resolve(values.data ?? path.join(root, '.data'))
  let running = null
  let asked = false
  const end = async () => {
    asked = true
    if (!running) return
    say('stopping')
    await running.stop()
    process.exit(0)
  }
  process.on('SIGINT', () => void end())
  process.on('SIGTERM', () => void end())
  running = await startAll({ data, port, demo: !values['no-demo'] })
  if (asked) return end()
  process.stdout.write(`${running.address}\n`)
}
