/** `start`: everything from the database to the browser's address, and a clean end. */
import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, writeFileSync, readdirSync, statSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { createServer } from 'node:net'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { bundle } from './bundle.mjs'
import { claim } from './data-folder.mjs'
import { passPhrase } from './pass-phrase.mjs'
import { beside, recoverLive } from './exchange.mjs'
import { freePort, openCluster } from './postgres.mjs'
import { Problem, root, say } from './setup.mjs'
import { nodeChild, supervisor } from './supervise.mjs'

/** Rooms of the sources that the web part is not made of. */
const elsewhere = ['cli', 'testing', 'demo']

/** Changes whenever a source of the web part does. */
function sourceMark() {
  const hash = createHash('sha256')
  const walk = (dir) => {
    for (const e of readdirSync(dir, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const p = path.join(dir, e.name)
      if (e.isDirectory()) walk(p)
      else if (!/\.test\.tsx?$/.test(p)) hash.update(p).update(readFileSync(p))
    }
  }
  for (const room of readdirSync(path.join(root, 'src')).sort())
    if (!elsewhere.includes(room)) walk(path.join(root, 'src', room))
  for (const f of ['package-lock.json', 'next.config.ts', 'tsconfig.json'])
    if (existsSync(path.join(root, f)) && statSync(path.join(root, f)).isFile())
      hash.update(readFileSync(path.join(root, f)))
  return hash.digest('hex')
}

/** A child that does one thing and ends; stopped by the signal. Gives its exit code and the end of what it said. */
function once(program, args, { env, quiet = false, signal }) {
  return new Promise((resolve) => {
    const child = spawn(program, args, { cwd: root, env, stdio: ['ignore', 'pipe', 'pipe'], signal, detached: true })
    let said = ''
    for (const s of [child.stdout, child.stderr])
      s.on('data', (d) => {
        said = (said + d).slice(-8000)
        if (!quiet) process.stderr.write(d)
      })
    child.once('error', () => resolve({ code: 1, said }))
    child.once('exit', (code) => resolve({ code: code ?? 1, said }))
  })
}

export async function buildWeb(signal) {
  const mark = path.join(root, '.next', 'glue-bench-sources')
  const now = sourceMark()
  if (existsSync(mark) && readFileSync(mark, 'utf8') === now) return
  say('building (a minute or so, only when the sources changed)')
  const { code, said } = await once(process.execPath, [path.join(root, 'node_modules/next/dist/bin/next'), 'build'], {
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
    quiet: true,
    signal,
  })
  if (code !== 0) throw new Problem(`The build failed:\n${said.trim().split('\n').slice(-40).join('\n')}`)
  writeFileSync(mark, now)
}

/** Says that a port is taken before anything is started. */
const requirePort = (host, port) =>
  new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', (error) =>
      reject(
        new Problem(
          error.code === 'EADDRINUSE'
            ? `Port ${port} is in use on ${host}. Choose another with --port. Nothing was started.`
            : `Glue Bench cannot listen on ${host}, port ${port}: ${error.code}. Nothing was started.`,
        ),
      ),
    )
    probe.listen(port, host, () => probe.close(() => resolve()))
  })

const loopback = (host) => /^(127\.\d+\.\d+\.\d+|localhost|::1)$/.test(host)
const address = (host, port, tls) => `http${tls ? 's' : ''}://${host.includes(':') ? `[${host}]` : host}:${port}`

/** Ends all parts, the database last. */
async function endAll(parts) {
  if (!parts) return
  await parts.end(Object.keys(parts.pids()).filter((n) => n !== 'database'))
  await parts.end(['database'])
}

/** Longest time until a part answers, s. */
const longestStart = 60

/** Waits until a part answers; throws a Problem when it does not start, or what `going` throws. */
async function until(parts, ready, part, going, logs) {
  for (let i = 0; !(await ready()); i++) {
    going()
    const { ends, said, name } = parts.part(part)
    if (ends > 2 || i > 10 * longestStart)
      throw new Problem(`The ${name} did not start: ${said.trim().split('\n').at(-1) || 'see its log'} (${logs})`)
    await new Promise((r) => setTimeout(r, 100))
  }
}

/**
 * Starts all parts under one supervisor; gives the address, the processes and a way to stop. `signal` stops the starting as well. Throws a
 * Problem when the folder or the port is taken; nothing was started then.
 */
export async function startAll({
  data: folder,
  port,
  host = '127.0.0.1',
  tls = null,
  newPassPhrase = false,
  demo,
  computeProcesses = 1,
  signal,
  extra = {},
}) {
  const { data, note, release } = claim(folder)
  const logs = path.join(data, 'logs')
  let parts = null
  let ended = null
  const stop = () => (ended ??= endAll(parts).then(release))
  const going = () => {
    if (signal?.aborted) throw new Problem('Stopped.')
  }
  try {
    const webPort = port ?? (await freePort())
    await requirePort(host, webPort)
    mkdirSync(logs, { recursive: true })
    const door = loopback(host) ? null : passPhrase(data, newPassPhrase)
    await bundle()
    going()
    const cluster = await openCluster(data)
    parts = supervisor(logs)
    going()
    parts.watch('database', cluster.start, 'SIGINT')
    await until(parts, cluster.ready, 'database', going, logs)
    await beside(cluster.url, (client) => recoverLive(client, new URL(cluster.url).pathname.slice(1)))
    const env = {
      ...process.env,
      ...extra,
      GLUE_BENCH_DATABASE: cluster.url,
      GLUE_BENCH_DATA: data,
      NEXT_TELEMETRY_DISABLED: '1',
      NODE_ENV: 'production',
    }
    const migrate = [path.join(root, '.build/migrate.mjs'), ...(demo ? ['--demo'] : [])]
    const { code } = await once(process.execPath, migrate, { env, signal })
    going()
    if (code !== 0) throw new Problem('The database could not be made ready.')
    await buildWeb(signal)
    going()
    for (let i = 1; i <= computeProcesses; i++)
      parts.watch(`compute-${i}`, () =>
        nodeChild(root, '.build/compute.mjs', { ...env, GLUE_BENCH_SLOT: `compute-${i}` }, ['--enable-source-maps']),
      )
    const webEnv = {
      ...env,
      GLUE_BENCH_HOST: host,
      GLUE_BENCH_PORT: String(webPort),
      ...(door
        ? {
            GLUE_BENCH_DOOR: JSON.stringify(door.kept),
            GLUE_BENCH_ENDED_LOGINS: path.join(data, 'ended-logins.json'),
          }
        : {}),
      ...(tls ? { GLUE_BENCH_CERTIFICATE: tls.certificate, GLUE_BENCH_KEY: tls.key } : {}),
    }
    parts.watch('web', () => nodeChild(root, '.build/web.mjs', webEnv))
    const shown = address(host === '0.0.0.0' ? '127.0.0.1' : host === '::' ? '::1' : host, webPort, tls)
    const answers = () =>
      fetch(`${shown}/api/health`).then(
        (r) => r.ok || r.status === 401,
        () => !!tls && parts.part('web').said.includes('ready'),
      )
    await until(parts, answers, 'web', going, logs)
    note({ address: shown, database: cluster.url })
    return { address: shown, data, stop, env, cluster, passPhrase: door?.phrase ?? null, pids: parts.pids }
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
      host: { type: 'string' },
      certificate: { type: 'string' },
      key: { type: 'string' },
      'new-pass-phrase': { type: 'boolean' },
      demo: { type: 'boolean' },
      'no-demo': { type: 'boolean' },
    },
  })
  const port = Number(values.port ?? 4173)
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Problem(`--port ${values.port} is no port number.`)
  if (!values.certificate !== !values.key) throw new Problem('--certificate and --key belong together.')
  const data = path.resolve(values.data ?? path.join(root, '.data'))
  const asked = new AbortController()
  let running = null
  const end = async () => {
    if (asked.signal.aborted) return // however often it is asked
    asked.abort()
    say('stopping')
    if (!running) return
    await running.stop()
    process.exit(0)
  }
  for (const s of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(s, () => void end())
  try {
    running = await startAll({
      data,
      port,
      host: values.host,
      tls: values.certificate ? { certificate: values.certificate, key: values.key } : null,
      newPassPhrase: values['new-pass-phrase'],
      demo: !values['no-demo'],
      signal: asked.signal,
    })
  } catch (error) {
    if (asked.signal.aborted) process.exit(0)
    throw error
  }
  if (asked.signal.aborted) {
    await running.stop()
    process.exit(0)
  }
  if (running.passPhrase) say(`pass phrase (shown this once): ${running.passPhrase}`)
  if (values.host && !loopback(values.host) && !values.certificate)
    say('Without --certificate and --key the network can read along: use it where you trust everybody.')
  process.stdout.write(`${running.address}\n`)
}
