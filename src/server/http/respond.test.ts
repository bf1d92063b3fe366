import { describe, expect, it, jest } from '@jest/globals'
import { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import { readJson, requireHash, requireId, respond } from './respond'

const at = 'http://127.0.0.1:4310/api/jobs'
const post = (body: string, headers: Record<string, string> = {}) =>
  new Request(at, { method: 'POST', body, headers: { host: '127.0.0.1:4310', ...headers } })
const told = async (r: Response) => ({
  status: r.status,
  error: ((await r.json()) as { error: { code: string; message: string } }).error,
})

describe('answers', () => {
  it('are JSON; nothing to say is "ok"', async () => {
    expect(await (await respond(new Request(at), () => Promise.resolve({ a: 1 }))).json()).toEqual({ a: 1 })
    expect(await (await respond(new Request(at), () => Promise.resolve(null))).json()).toEqual({ ok: true })
  })
  it('tell failures in a sentence with a fitting status, and keep a code’s own words to the log', async () => {
    const fail = (error: Error) => respond(new Request(at), () => Promise.reject(error)).then(told)
    expect(await fail(new StepError('not-found', 'This job does not exist.'))).toMatchObject({ status: 404 })
    expect(await fail(new StepError('out-of-date', 'Changed elsewhere.'))).toMatchObject({ status: 409 })
    expect(await fail(new StepError('not-closed', 'It is open.'))).toMatchObject({
      status: 422,
      error: { code: 'not-closed' },
    })
    const log = jest.spyOn(console, 'error').mockImplementation(() => {})
    const odd = await fail(new TypeError('x of undefined'))
    expect(odd).toMatchObject({ status: 500, error: { code: 'unexpected' } })
    expect(odd.error.message).not.toContain('undefined')
    expect(await fail(new Error('connect ECONNREFUSED 127.0.0.1:5432'))).toMatchObject({
      status: 503,
      error: { code: 'database-away' },
    })
    expect(log).toHaveBeenCalledTimes(2)
    // As the database says it, with what was asked around it; and as a file system does.
    const refused = Object.assign(new Error('could not extend file "base/5/1": No space left'), { code: '53100' })
    for (const full of [
      new Error('Failed query: insert', { cause: refused }),
      Object.assign(new Error('write'), { code: 'ENOSPC' }),
    ])
      expect(await fail(full)).toEqual({
        status: 507,
        error: {
          code: 'disk-full',
          message: 'The disk is full: this could not be kept. What was kept before is still there.',
          tryThis: 'Free some space, then try again.',
        },
      })
    log.mockRestore()
  })
  it('to writes from another site are refusals', async () => {
    const done = () => Promise.resolve({ done: true })
    expect((await respond(post('{}', { origin: 'http://127.0.0.1:4310' }), done)).status).toBe(200)
    expect((await told(await respond(post('{}', { origin: 'http://elsewhere.example' }), done))).error.code).toBe(
      'forbidden',
    )
    expect((await respond(post('{}', { 'sec-fetch-site': 'cross-site' }), done)).status).not.toBe(200)
    expect((await respond(post('{}', { 'sec-fetch-site': 'same-origin' }), done)).status).toBe(200)
  })
})

describe('questions', () => {
  const schema = z.object({ name: z.string() }).strict()
  it('are read by a schema, and what is wrong is named', async () => {
    expect(await readJson(post('{"name":"a"}'), schema)).toEqual({ name: 'a' })
    await expect(readJson(post('{"name":1}'), schema)).rejects.toThrow(/name/)
    await expect(readJson(post('{"name":"a","b":1}'), schema)).rejects.toThrow(/unknown key "b"/)
    await expect(readJson(post('no'), schema)).rejects.toThrow(/not JSON/)
    await expect(readJson(post(`{"name":"${'x'.repeat(5 << 20)}"}`), schema)).rejects.toThrow(/too large/)
  })
  it('name jobs and bytes as they are named', () => {
    expect(requireId('6a0e0c5e-1111-4222-8333-444455556666')).toHaveLength(36)
    expect(() => requireId("1' or 1=1")).toThrow(StepError)
    expect(requireHash('a'.repeat(64))).toHaveLength(64)
    expect(() => requireHash('../etc')).toThrow(StepError)
  })
})
