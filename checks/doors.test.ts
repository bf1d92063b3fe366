/** What a web server must refuse, asked as hostile pages and clumsy programs ask; and what every answer carries. */
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { request as ask } from 'node:http'
import { startedBench } from '@/testing/started'

let bench: Awaited<ReturnType<typeof startedBench>>
let job: string
beforeAll(async () => {
  bench = await startedBench()
  job = ((await (await post('/api/jobs', { title: 'doors' })).json()) as { id: string }).id
}, 120_000)
afterAll(() => bench.end())

const post = (where: string, body: unknown, headers: Record<string, string> = {}) =>
  fetch(`${bench.address}${where}`, {
    method: 'POST',
    body: typeof body === 'string' ? body : JSON.stringify(body),
    headers,
  })

/** A request with headers that fetch does not let one set. */
const raw = (where: string, headers: Record<string, string>, method = 'GET', body?: string | Buffer) =>
  new Promise<{ status: number; text: string }>((resolve, reject) => {
    const r = ask(`${bench.address}${where}`, { method, headers }, (response) => {
      let text = ''
      response.on('data', (d: Buffer) => (text += d.toString()))
      response.on('end', () => resolve({ status: response.statusCode ?? 0, text }))
    })
    r.on('error', reject)
    r.end(body)
  })
const none = '00000000-0000-4000-8000-000000000000'
const said = async (r: Response | Promise<Response>) => {
  const response = await r
  return [response.status, ((await response.json()) as { error?: { code: string } }).error?.code]
}

describe('who may come in', () => {
  const own = () => new URL(bench.address).host
  it.each(['evil.example', 'evil.example:80', 'localhost:1', '127.0.0.1'])('not under the name %j', async (host) => {
    for (const where of ['/', '/api/jobs', `/api/jobs/${job}`]) expect((await raw(where, { host })).status).toBe(421)
  })
  it.each(['http://evil.example', 'null', 'https://127.0.0.1:1', 'nonsense', 'file://'])(
    'no writes from %j',
    async (origin) => {
      for (const [method, where] of [
        ['POST', '/api/jobs'],
        ['DELETE', `/api/jobs/${job}`],
        ['PATCH', `/api/jobs/${job}`],
        ['POST', `/api/jobs/${job}/files?name=a.stl`],
      ])
        expect((await raw(where, { host: own(), origin }, method, '{"title":"x"}')).status).toBe(403)
      expect((await fetch(`${bench.address}/api/jobs/${job}`)).status).toBe(200)
    },
  )
  it('not a page of another site that only reads', async () => {
    expect(
      (await raw('/api/jobs', { host: own(), 'sec-fetch-site': 'cross-site', 'sec-fetch-dest': 'empty' })).status,
    ).toBe(403)
  })
  it('our own pages and plain programs', async () => {
    expect((await raw('/api/jobs', { host: own(), origin: bench.address }, 'POST', '{"title":"own"}')).status).toBe(200)
    expect((await post('/api/jobs', { title: 'program' })).status).toBe(200)
  })
})

describe('what every answer carries', () => {
  it.each(['/', '/api/jobs', '/no-such-page', '/api/blobs/none'])('%s', async (where) => {
    const h = (await fetch(`${bench.address}${where}`)).headers
    expect(h.get('x-content-type-options')).toBe('nosniff')
    expect(h.get('referrer-policy')).toBe('same-origin')
    expect(h.get('content-security-policy')).toContain("frame-ancestors 'none'")
    expect(h.get('x-powered-by')).toBeNull()
  })
  it('pages run only their own scripts', async () => {
    const [a, b] = await Promise.all([fetch(bench.address), fetch(bench.address)])
    const policy = a.headers.get('content-security-policy')!
    expect(policy).not.toContain("'unsafe-eval'")
    expect(/script-src [^;]*/.exec(policy)![0]).not.toContain("'unsafe-inline'")
    expect(policy).not.toBe(b.headers.get('content-security-policy')) // another nonce each time
    const nonce = /'nonce-([^']+)'/.exec(policy)![1]
    const scripts = (await a.text()).match(/<script[^>]*>/g)!
    expect(scripts.length).toBeGreaterThan(2)
    for (const s of scripts) expect(s).toContain(`nonce="${nonce}"`)
  })
})

describe('bad requests get a sentence and a status of theirs', () => {
  const revision = async () =>
    ((await (await fetch(`${bench.address}/api/jobs/${job}`)).json()) as { revision: string }).revision
  it.each([
    ['no JSON', '{', 400],
    ['NUL in a text', '{"title":"a\\u0000b"}', 400],
    ['half a surrogate pair', '{"title":"a\\ud800b"}', 400],
    ['an unknown key', '{"title":"a","x":1}', 400],
    ['an empty body', '', 400],
    ['a list', '[]', 400],
  ])('%s', async (_what, body, status) => {
    expect((await post('/api/jobs', body)).status).toBe(status)
  })
  it('NUL deep in a recipe', async () => {
    const recipe = {
      format: 'glue-bench/recipe',
      version: 1,
      steps: [{ id: 's', kind: 'build/block', set: { name: 'b', note: ['\u0000'] } }],
    }
    expect(await said(post(`/api/jobs/${job}/revisions`, { base: await revision(), label: 'x', recipe }))).toEqual([
      400,
      'bad-request',
    ])
  })
  it('bytes that are no text', async () => {
    const host = new URL(bench.address).host
    expect((await raw('/api/jobs', { host }, 'POST', Buffer.from([0x22, 0xff, 0xfe, 0x22]))).status).toBe(400)
  })
  it('too much, while it streams in and not after', async () => {
    // 40 MB are offered and never all taken: the answer comes and the line is cut.
    let sent = 0
    const body = new ReadableStream<Uint8Array>({
      pull(c) {
        sent += 1 << 18
        if (sent > 40 << 20) c.close()
        else c.enqueue(new Uint8Array(1 << 18).fill(32))
      },
    })
    const status = await fetch(`${bench.address}/api/jobs`, {
      method: 'POST',
      body,
      duplex: 'half',
    } as RequestInit).then(
      (r) => r.status,
      () => 'cut',
    )
    expect([413, 'cut']).toContain(status)
    expect(sent).toBeLessThan(30 << 20)
    expect((await fetch(`${bench.address}/api/health`)).status).toBe(200)
  })
  it('what does not exist', async () => {
    const recipe = { format: 'glue-bench/recipe', version: 1, steps: [] }
    expect(await said(post(`/api/jobs/${none}/ghost`, { recipe }))).toEqual([404, 'not-found'])
    expect(await said(post(`/api/jobs/${none}/history`, { go: 'undo' }))).toEqual([404, 'not-found'])
    expect(await said(post(`/api/jobs/${none}/run`, {}))).toEqual([404, 'not-found'])
    expect(await said(post(`/api/jobs/${none}/revisions`, { base: none, label: '', recipe }))).toEqual([
      404,
      'not-found',
    ])
    expect(await said(fetch(`${bench.address}/api/runs/${none}`))).toEqual([404, 'not-found'])
    expect(await said(fetch(`${bench.address}/api/blobs/${'0'.repeat(64)}`))).toEqual([404, 'not-found'])
    expect(
      (await raw(`/api/jobs/${none}/files?name=a.stl`, { host: new URL(bench.address).host }, 'POST', 'x')).status,
    ).toBe(404)
  })
  it('a check-up of a body that does not exist asks for no work', async () => {
    expect(await said(fetch(`${bench.address}/api/jobs/${job}/check-up/${'a'.repeat(64)}`))).toEqual([404, 'not-found'])
  })
  it('file names are labels: nothing of a path, no control characters, no halves', async () => {
    const name = encodeURIComponent('../../etc/pass\u0001wd.stl')
    const r = await fetch(`${bench.address}/api/jobs/${job}/files?name=${name}`, {
      method: 'POST',
      body: 'solid\nendsolid\n',
    })
    expect(await r.json()).toMatchObject({ name: 'passwd.stl' })
  })
})
