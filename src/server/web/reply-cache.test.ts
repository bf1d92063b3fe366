import { describe, expect, it } from '@jest/globals'
import { createServer, type ServerResponse } from 'node:http'
import { ReplyCache } from './reply-cache'

const job = '00000000-0000-4000-8000-00000000000a'

/** A server whose answers count up, behind a cache. */
async function serving(work: (r: ServerResponse, cache: ReplyCache) => void | Promise<void> = () => {}) {
  const cache = new ReplyCache()
  cache.on = true
  let made = 0
  const server = createServer((request, response) => {
    void (async () => {
      if (await cache.answer(request, response)) return
      made++
      const now = made
      await work(response, cache)
      response.setHeader('x-keep-seconds', request.url!.includes('never') ? '0' : '60')
      response.write(`answer `)
      response.end(String(now))
    })()
  })
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r))
  const { port } = server.address() as { port: number }
  const get = async (where: string, init?: RequestInit) =>
    (await fetch(`http://127.0.0.1:${port}${where}`, init)).text()
  return { cache, get, made: () => made, end: () => server.close() }
}

describe('kept replies', () => {
  it('are given until their job changes, the list with any of them, bytes for ever', async () => {
    const s = await serving()
    const blob = `/api/blobs/${'a'.repeat(64)}`
    for (const where of [`/api/jobs/${job}`, '/api/jobs', blob]) expect(await s.get(where)).toBe(await s.get(where))
    expect(s.made()).toBe(3)
    s.cache.changed(job.replace('a', 'b'))
    expect(await s.get(`/api/jobs/${job}`)).toBe('answer 1')
    expect(await s.get('/api/jobs')).toBe('answer 4')
    s.cache.changed(job)
    expect(await s.get(`/api/jobs/${job}`)).toBe('answer 5')
    expect(await s.get(blob)).toBe('answer 3')
    s.cache.changed()
    expect(await s.get(blob)).toBe('answer 6')
    s.end()
  })
  it('end with a write that passes, before its answer is read', async () => {
    const s = await serving()
    await s.get(`/api/jobs/${job}`)
    await s.get(`/api/jobs/${job}/revisions`, { method: 'POST', body: '{}' })
    expect(await s.get(`/api/jobs/${job}`)).toBe('answer 3')
    s.end()
  })
  it('are not kept when a change came while they were made, nor while changes cannot be heard', async () => {
    let change = true
    const s = await serving((_r, cache) => {
      if (change) cache.changed(job)
    })
    await s.get(`/api/jobs/${job}`)
    expect(await s.get(`/api/jobs/${job}`)).toBe('answer 2')
    change = false
    s.cache.on = false
    await s.get(`/api/jobs/${job}`)
    expect(await s.get(`/api/jobs/${job}`)).toBe('answer 4')
    s.end()
  })
  it('a crowd makes one answer', async () => {
    const s = await serving(() => new Promise((r) => setTimeout(r, 50)))
    const all = await Promise.all(Array.from({ length: 30 }, () => s.get(`/api/jobs/${job}`)))
    expect(new Set(all)).toEqual(new Set(['answer 1']))
    s.end()
  })
})
