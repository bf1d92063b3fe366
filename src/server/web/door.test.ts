import { describe, expect, it } from '@jest/globals'
import type { IncomingMessage } from 'node:http'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { isOpen, ownNames, pagePolicy, pathOf, refusal, scriptPolicy, wrongMethod } from './door'
import { EndedLogins, Login } from './login'

const from = (method: string, headers: Record<string, string>) => ({ method, headers }) as unknown as IncomingMessage

describe('the door', () => {
  it('knows the names it was started under, and no others', () => {
    expect(ownNames('127.0.0.1', 4173)).toEqual(new Set(['127.0.0.1:4173', 'localhost:4173', '[::1]:4173']))
    expect(ownNames('192.0.2.7', 443).has('192.0.2.7')).toBe(true)
    expect(ownNames('192.0.2.7', 4173).has('192.0.2.7')).toBe(false)
    expect(ownNames('0.0.0.0', 4173).size).toBeGreaterThan(3)
    expect(ownNames('fd00::1', 80).has('[fd00::1]:80')).toBe(true)
  })
  const names = ownNames('127.0.0.1', 4173)
  it.each([
    ['GET', { host: '127.0.0.1:4173' }, null],
    ['GET', { host: 'LOCALHOST:4173' }, null],
    ['GET', { host: 'example.org' }, 421],
    ['GET', {}, 421],
    ['POST', { host: 'localhost:4173' }, null],
    ['POST', { host: 'localhost:4173', origin: 'http://localhost:4173' }, null],
    ['POST', { host: 'localhost:4173', origin: 'http://localhost:4174' }, 403],
    ['POST', { host: 'localhost:4173', origin: 'null' }, 403],
    ['DELETE', { host: 'localhost:4173', 'sec-fetch-site': 'same-site' }, 403],
    ['GET', { host: 'localhost:4173', 'sec-fetch-site': 'cross-site', 'sec-fetch-dest': 'image' }, 403],
    ['GET', { host: 'localhost:4173', 'sec-fetch-site': 'cross-site', 'sec-fetch-dest': 'document' }, null],
  ])('%s %j: %j', (method, headers, status) => {
    expect(refusal(from(method, headers as Record<string, string>), names)?.status ?? null).toBe(status)
  })
  it.each([
    ['/', '/'],
    ['/jobs/12?x=../..', '/jobs/12'],
    ['/api/jobs/b%C3%BCgel', '/api/jobs/bügel'],
    ['/_next/static/../../api/jobs', null],
    ['/_next/static/%2e%2e/%2e%2e/api/jobs', null],
    ['/_next/static/..%2f..%2fapi/jobs', null],
    ['/_next/static/%252e%252e/api/jobs', null],
    ['/_next/static/./a.js', null],
    ['//api/jobs', null],
    ['/login//..//api/jobs', null],
    ['/login\\..\\api', null],
    ['/login%5c..', null],
    ['/%00', null],
    ['/%ff', null],
    ['http://127.0.0.1:4173/api/jobs', null],
    ['*', null],
    ['', null],
  ])('reads the path %j as %j', (url, path) => expect(pathOf(url)).toBe(path))
  it.each([
    ['/login', true],
    ['/icon.svg', true],
    ['/_next/static/chunks/main-0a1b.js', true],
    ['/_next/static/media/inter.woff2', true],
    ['/login/', false],
    ['/login2', false],
    ['/', false],
    ['/api/jobs', false],
    ['/api/health', false],
    ['/_next/image', false],
    ['/_next/data/x/jobs.json', false],
    ['/_next/static/', false],
    ['/_next/static/a.html', false],
    ['/_next/static/a.js/b', false],
  ])('shows %s to who has no pass phrase: %s', (path, open) => expect(isOpen(path)).toBe(open))
  it('answers to its own methods alone', () => {
    for (const m of ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS']) expect(wrongMethod(m)).toBeNull()
    for (const m of ['TRACE', 'CONNECT', 'get', '', undefined]) expect(wrongMethod(m)?.status).toBe(405)
  })
  it('pages may not make code of text; workers of the kernels may', () => {
    expect(pagePolicy('n')).not.toContain("'unsafe-eval'")
    expect(scriptPolicy).toContain("'unsafe-eval'")
  })
})

describe('a login', () => {
  // Salt and hash of "correct horse", N = 16384, r = 8, p = 1, made with Python's hashlib.scrypt.
  const kept = {
    salt: '000102030405060708090a0b0c0d0e0f',
    hash: '25b376840366f4d3b0e21e414476676e3cd0e89af4430356a234ce0b65a021b5',
    secret: 'ff'.repeat(32),
  }
  const cookieOf = async (login: Login) => {
    const r = await login.enter('correct horse', 'a')
    return 'cookie' in r ? r.cookie : ''
  }
  it('knows its phrase and its cookie, and no other of either', async () => {
    const login = new Login(kept, true)
    expect(await login.enter('Correct horse', 'a')).toEqual({ wrong: true })
    const cookie = await cookieOf(login)
    expect(cookie).toMatch(
      /^glue_bench=\d+\.[0-9a-f]{32}\.[0-9a-f]{64}; Path=\/; HttpOnly; SameSite=Strict; Max-Age=2592000; Secure$/,
    )
    const value = cookie.split(';')[0]
    expect(login.known(from('GET', { cookie: `x=1; ${value}` }))).toBe(true)
    const [until, id, sign] = value.slice('glue_bench='.length).split('.')
    for (const forged of [
      `${Number(until) + 1}.${id}.${sign}`,
      `${until}.${'0'.repeat(32)}.${sign}`,
      `${until}.${id}.${'0'.repeat(64)}`,
      `${until}.${id}.${sign}.`,
      `${until}.${sign}`,
      until,
      '',
      `1.${id}.${sign}`,
    ])
      expect(login.known(from('GET', { cookie: `glue_bench=${forged}` }))).toBe(false)
    // Another secret, as after a new phrase, ends what was signed with the old one.
    expect(new Login({ ...kept, secret: 'ee'.repeat(32) }, true).known(from('GET', { cookie: value }))).toBe(false)
  })
  it('that is ended stays ended, for everyone who has its cookie, and after a new start; others go on', async () => {
    const folder = mkdtempSync(path.join(tmpdir(), 'glue-bench-'))
    const file = path.join(folder, 'ended.json')
    try {
      const login = new Login(kept, false, new EndedLogins(file))
      const [one, two] = [await cookieOf(login), await cookieOf(login)].map((c) =>
        from('POST', { cookie: c.split(';')[0] }),
      )
      expect([login.known(one), login.known(two)]).toEqual([true, true])
      expect(login.leave(one)).toMatch(/^glue_bench=; .*Max-Age=0/)
      expect([login.known(one), login.known(two)]).toEqual([false, true])
      const again = new Login(kept, false, new EndedLogins(file))
      expect([again.known(one), again.known(two)]).toEqual([false, true])
      // A forged one ends nothing.
      again.leave(from('POST', { cookie: 'glue_bench=1.2.3' }))
      expect(again.known(two)).toBe(true)
    } finally {
      rmSync(folder, { recursive: true })
    }
  })
  it('makes who guesses wait, and not the others', async () => {
    const login = new Login(kept, false)
    for (let i = 0; i < 8; i++) expect(await login.enter(`guess ${i}`, 'b')).toEqual({ wrong: true })
    const last = await login.enter('correct horse', 'b')
    expect('wait' in last && last.wait).toBeGreaterThan(200)
    expect(await cookieOf(login)).not.toContain('Secure')
  })
})
