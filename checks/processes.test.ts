/** The start command from outside: one folder, one bench, nothing left behind, whatever happens when. */
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import {
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { connect, createServer } from 'node:net'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { startedBench } from '@/testing/started'

const place = mkdtempSync(path.join(tmpdir(), 'glue-bench-start-')) // private to its owner, as a home may be
afterAll(() => rmSync(place, { recursive: true, force: true }))
const folder = (name: string) => path.join(place, name)

async function freePort(): Promise<number> {
  const s = createServer()
  await new Promise<void>((resolve) => s.listen(0, '127.0.0.1', resolve))
  const { port } = s.address() as { port: number }
  await new Promise((resolve) => s.close(resolve))
  return port
}

interface Run {
  child: ChildProcess
  out(): string
  err(): string
  /** The address, when it is printed; rejects when the command ends before. */
  address: Promise<string>
  ended: Promise<number | null>
}
function start(data: string, port: number): Run {
  const child = spawn(process.execPath, [
    'scripts/glue-bench.mjs',
    'start',
    '--no-demo',
    '--data',
    data,
    '--port',
    String(port),
  ])
  let out = '',
    err = ''
  const ended = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)))
  const address = new Promise<string>((resolve, reject) => {
    child.stdout.on('data', (d: Buffer) => {
      out += d.toString()
      if (out.includes('\n')) resolve(out.trim())
    })
    void ended.then(() => reject(new Error(`ended: ${err}`)))
  })
  address.catch(() => {})
  child.stderr.on('data', (d: Buffer) => (err += d.toString()))
  return { child, out: () => out, err: () => err, address, ended }
}

/** Processes that work for a data folder: by what they were called with, or by the marker in their environment. */
function workingFor(data: string, database?: string): string[] {
  const found = []
  for (const pid of readdirSync('/proc').filter((p) => /^\d+$/.test(p)))
    try {
      const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replace(/\0/g, ' ')
      const mine = line.includes(data) || (database && readFileSync(`/proc/${pid}/environ`, 'utf8').includes(database))
      if (mine && Number(pid) !== process.pid && !/jest/.test(line)) found.push(line)
    } catch {
      // It ended meanwhile.
    }
  return found
}
async function nobodyWorksFor(data: string, database?: string): Promise<void> {
  for (let i = 0; i < 100 && workingFor(data, database).length; i++) await new Promise((r) => setTimeout(r, 100))
  expect(workingFor(data, database)).toEqual([])
}

const json = async (url: string, init?: RequestInit) =>
  (await fetch(url, init)).json() as Promise<Record<string, unknown>>
const makeJob = (address: string, title: string) =>
  json(`${address}/api/jobs`, { method: 'POST', body: JSON.stringify({ title }) })
const titles = async (address: string) =>
  ((await json(`${address}/api/jobs`)) as unknown as { title: string }[]).map((j) => j.title).sort()

describe('a start that is stopped', () => {
  it('at any moment, once or ten times, leaves nothing running and a folder that starts', async () => {
    const data = folder('stopped')
    const port = await freePort()
    let cluster = ''
    const before = readdirSync(tmpdir())
    for (const [i, wait] of [150, 400, 800, 1500, 3000].entries()) {
      const run = start(data, port)
      await Promise.race([new Promise((r) => setTimeout(r, wait)), run.ended])
      for (let n = 0; n < (i % 2 ? 10 : 1); n++) run.child.kill('SIGINT')
      await run.ended
      await nobodyWorksFor(data)
      // One cluster for ever: what was made at the first time is there at every other.
      const mark = path.join(data, 'postgres', 'PG_VERSION')
      if (existsSync(mark)) {
        const id = readFileSync(path.join(data, 'postgres', 'glue-bench-password'), 'utf8')
        if (cluster) expect(id).toBe(cluster)
        cluster = id
      }
    }
    const run = start(data, port)
    const address = await run.address
    expect(await titles(address)).toEqual([])
    run.child.kill('SIGINT')
    expect(await run.ended).toBe(0)
    await nobodyWorksFor(data)
    // The database, its password and the logs are inside, and nothing else is anywhere.
    expect(readdirSync(data).sort()).toEqual(['lock', 'logs', 'postgres'])
    expect(readdirSync(tmpdir()).filter((n) => n.startsWith('gb-') && !before.includes(n))).toEqual([])
  }, 240_000)
})

describe('a bench that runs', () => {
  const data = folder('runs')
  let run: Run, address: string, port: number, database: string
  beforeAll(async () => {
    port = await freePort()
    run = start(data, port)
    address = await run.address
    database = (JSON.parse(readFileSync(path.join(data, 'running.json'), 'utf8')) as { database: string }).database
    await makeJob(address, 'kept')
  }, 120_000)
  afterAll(() => void run.child.kill('SIGKILL'))

  it('is named by a second start on its folder, which touches nothing', async () => {
    const second = start(data, await freePort())
    expect(await second.ended).toBe(1)
    expect(second.err()).toContain(`A bench is running on ${data} already: ${address} (process ${run.child.pid})`)
    expect(await titles(address)).toEqual(['kept'])
  }, 60_000)
  it('has its port, and a start on another folder says so before anything is made', async () => {
    const other = folder('other')
    const second = start(other, port)
    expect(await second.ended).toBe(1)
    expect(second.err()).toContain(`Port ${port} is in use`)
    expect(existsSync(path.join(other, 'postgres'))).toBe(false)
  }, 60_000)
  it('is backed up and restored as it runs; a damaged backup changes nothing', async () => {
    const file = folder('b.backup')
    const command = (...args: string[]) =>
      spawnSync(process.execPath, ['scripts/glue-bench.mjs', ...args, '--data', data], { encoding: 'utf8' })
    expect(command('backup', file).status).toBe(0)
    await makeJob(address, 'later')
    expect(await titles(address)).toEqual(['kept', 'later'])
    const cut = folder('cut.backup')
    cpSync(file, cut)
    truncateSync(cut, Math.floor(readFileSync(file).length * 0.7))
    const refused = command('restore', cut)
    expect(refused.status).toBe(1)
    expect(refused.stderr).toContain('othing was changed')
    writeFileSync(cut, 'no backup')
    expect(command('restore', cut).stderr).toContain('is no backup')
    expect(await titles(address)).toEqual(['kept', 'later'])
    expect(command('restore', file).status).toBe(0)
    const back = async () => {
      for (let i = 0; i < 50; i++) {
        const r = await fetch(`${address}/api/jobs`)
        if (r.ok) return ((await r.json()) as { title: string }[]).map((j) => j.title)
        await new Promise((resolve) => setTimeout(resolve, 200))
      }
      throw new Error('it did not come back')
    }
    expect(await back()).toEqual(['kept'])
  }, 120_000)
  it('keeps no child of a compute process that was killed, even one that hears nothing', async () => {
    const parentOf = (pid: string) => /^\d+ \(.*\) \w (\d+)/.exec(readFileSync(`/proc/${pid}/stat`, 'utf8'))?.[1]
    const alive = (pid: string) =>
      existsSync(`/proc/${pid}`) && !/\) Z /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'))
    const ours = readdirSync('/proc').filter((p) => {
      try {
        return /^\d+$/.test(p) && readFileSync(`/proc/${p}/environ`, 'utf8').includes(database)
      } catch {
        return false
      }
    })
    const line = (pid: string) => readFileSync(`/proc/${pid}/cmdline`, 'utf8')
    const compute = ours.find((p) => line(p).includes('compute.mjs'))!
    const children = ours.filter((p) => line(p).includes('compute-child.mjs') && parentOf(p) === compute)
    expect(children.length).toBe(2)
    for (const c of children) process.kill(Number(c), 'SIGSTOP')
    process.kill(Number(compute), 'SIGKILL')
    for (let i = 0; i < 50 && children.some(alive); i++) await new Promise((r) => setTimeout(r, 100))
    expect(children.filter(alive)).toEqual([])
  }, 30_000)
  it('leaves nothing behind when its wrapper is killed, and starts again with everything', async () => {
    run.child.kill('SIGKILL')
    await run.ended
    await nobodyWorksFor(data, database)
    // Copied as another would copy it, owner lost; and moved.
    const copy = folder('copy'),
      moved = folder('moved')
    expect(spawnSync('cp', ['-r', data, copy]).status).toBe(0)
    renameSync(data, moved)
    for (const where of [copy, moved]) {
      const again = start(where, port)
      expect(await titles(await again.address)).toEqual(['kept'])
      again.child.kill('SIGTERM')
      expect(await again.ended).toBe(0)
    }
    // What holds no whole database is said and not replaced.
    rmSync(path.join(copy, 'postgres', 'PG_VERSION'))
    const broken = start(copy, port)
    expect(await broken.ended).toBe(1)
    expect(broken.err()).toContain('holds no whole database. Nothing was changed')
  }, 120_000)
})

describe('a bench for other machines', () => {
  it('asks for its pass phrase, slows down who guesses, and remembers who knows it', async () => {
    const bench = await startedBench({ host: '0.0.0.0' })
    try {
      const { address, passPhrase } = bench
      expect(passPhrase).toMatch(/^(\w{6}-){3}\w{6}$/)
      const page = await fetch(address, { redirect: 'manual' })
      expect([page.status, page.headers.get('location')]).toEqual([303, '/login'])
      expect((await fetch(`${address}/api/jobs`)).status).toBe(401)
      expect(await (await fetch(`${address}/login`)).text()).toContain('Pass phrase')
      const enter = (phrase: string) =>
        fetch(`${address}/api/login`, { method: 'POST', body: new URLSearchParams({ phrase }), redirect: 'manual' })
      expect((await enter('not this one')).headers.get('location')).toBe('/login?wrong')
      const good = await enter(passPhrase!)
      const cookie = good.headers.get('set-cookie')!
      expect(cookie).toMatch(/HttpOnly; SameSite=Strict/)
      const value = cookie.split(';')[0]
      expect((await fetch(`${address}/api/jobs`, { headers: { cookie: value } })).status).toBe(200)
      expect((await fetch(`${address}/api/jobs`, { headers: { cookie: `${value}0` } })).status).toBe(401)
      // No way round: paths that a server might read otherwise than its door, on the wire as they are.
      const { hostname, port } = new URL(address)
      const raw = (text: string, wait = 0) =>
        new Promise<string>((resolve) => {
          const socket = connect(Number(port), hostname, () => socket.write(text))
          let answer = ''
          const since = Date.now()
          socket.on('data', (d) => (answer += d.toString()))
          socket.on('error', () => {})
          socket.on('close', () => resolve(wait ? `${Math.round((Date.now() - since) / 1000)} s` : answer))
        })
      const head = `Host: ${hostname}:${port}\r\nConnection: close\r\n`
      for (const where of [
        '/_next/static/../../api/jobs',
        '/_next/static/%2e%2e/%2e%2e/api/jobs',
        '/_next/static/..%2f..%2fapi/jobs',
        '/_next/static/x.js/../../../api/jobs',
        '//api/jobs',
        '/login/../api/jobs',
        '/api%2fjobs',
        '/_next/image?url=%2Fapi%2Fjobs&w=64&q=75',
      ])
        expect([where, /^HTTP\/1.1 (\d+)/.exec(await raw(`GET ${where} HTTP/1.1\r\n${head}\r\n`))![1]]).toEqual([
          where,
          expect.stringMatching(/^(400|401|303)$/),
        ])
      expect(await raw(`TRACE / HTTP/1.1\r\n${head}\r\n`)).toMatch(/^HTTP\/1.1 405/)
      const long = await fetch(`${address}/api/login`, { method: 'POST', body: `phrase=${'x'.repeat(5000)}` })
      expect(long.status).toBe(413)
      // Half a request ends by itself, of its head and of its body.
      const [half, body] = await Promise.all([
        raw(`GET / HTTP/1.1\r\nHost: ${hostname}`, 1),
        raw(`POST /api/login HTTP/1.1\r\n${head}Content-Length: 100\r\n\r\nphrase=`, 1),
      ])
      for (const seconds of [half, body]) expect(parseInt(seconds, 10)).toBeLessThan(16)
      // Who leaves has left, even with the old cookie at hand.
      const second = (await enter(passPhrase!)).headers.get('set-cookie')!.split(';')[0]
      await fetch(`${address}/api/logout`, { method: 'POST', headers: { cookie: second }, redirect: 'manual' })
      expect((await fetch(`${address}/api/jobs`, { headers: { cookie: second } })).status).toBe(401)
      expect((await fetch(`${address}/api/jobs`, { headers: { cookie: value } })).status).toBe(200)
      for (let i = 0; i < 8; i++) await enter(`guess ${i}`)
      expect((await enter(passPhrase!)).headers.get('location')).toMatch(/wait=\d+/)
      // The phrase itself is nowhere in the folder.
      expect(spawnSync('grep', ['-r', '-l', passPhrase!, bench.data], { encoding: 'utf8' }).stdout).toBe('')
    } finally {
      await bench.end()
    }
  }, 120_000)
})
