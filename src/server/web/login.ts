/** The pass phrase at the door of a bench that other machines may reach: checked slowly, rarely, and remembered by a signed cookie. */
import { createHmac, randomBytes, scrypt, timingSafeEqual } from 'node:crypto'
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import type { IncomingMessage } from 'node:http'
import { promisify } from 'node:util'
import { RateLimiterMemory } from 'rate-limiter-flexible'

/** What is kept of the pass phrase, hexadecimal: salt and scrypt hash (RFC 7914), and the secret that signs cookies. */
export interface KeptPhrase {
  readonly salt: string
  readonly hash: string
  readonly secret: string
}

export const cookieName = 'glue_bench'
/** How long a login holds, s. */
const holds = 30 * 86_400
/** Wrong phrases from one address, and from all together, in five minutes. */
const perAddress = 8,
  inAll = 60

const derive = promisify(scrypt) as (phrase: string, salt: Buffer, length: number) => Promise<Buffer>
const equal = (a: Buffer, b: Buffer) => a.length === b.length && timingSafeEqual(a, b)

/** Logins that were ended before their time, kept in a file so that they stay ended: each with when it would have ended by itself, s. */
export class EndedLogins {
  private readonly list = new Map<string, number>()
  /** `file`: where they are kept; left out: only as long as this process runs. */
  constructor(private readonly file?: string) {
    if (!file || !existsSync(file)) return
    try {
      for (const [id, until] of Object.entries(JSON.parse(readFileSync(file, 'utf8')) as Record<string, number>))
        this.list.set(id, until)
    } catch {
      // Whoever was shut out may not come back in because a file was damaged.
      throw new Error(`${file} is damaged. Start with --new-pass-phrase, which ends all logins, and delete it.`)
    }
  }

  has(id: string): boolean {
    return this.list.has(id)
  }

  add(id: string, until: number): void {
    const now = Date.now() / 1000
    for (const [old, ends] of this.list) if (ends < now) this.list.delete(old)
    this.list.set(id, until)
    if (!this.file) return
    // Beside it first, so that a stop on the way leaves the old list whole.
    writeFileSync(`${this.file}.new`, JSON.stringify(Object.fromEntries(this.list)), { mode: 0o600 })
    renameSync(`${this.file}.new`, this.file)
  }
}

export class Login {
  private readonly one = new RateLimiterMemory({ points: perAddress, duration: 300 })
  private readonly all = new RateLimiterMemory({ points: inAll, duration: 300 })
  /** `secure`: the bench is reached over TLS, so the cookie may not travel without. */
  constructor(
    private readonly kept: KeptPhrase,
    private readonly secure: boolean,
    private readonly ended = new EndedLogins(),
  ) {}

  private sign(until: number, id: string): string {
    return createHmac('sha256', Buffer.from(this.kept.secret, 'hex')).update(`${until}.${id}`).digest('hex')
  }

  /** The login that a request carries, if it is one of ours and holds. */
  private held(request: IncomingMessage): { id: string; until: number } | null {
    const value = (request.headers.cookie ?? '')
      .split(/;\s*/)
      .find((c) => c.startsWith(`${cookieName}=`))
      ?.slice(cookieName.length + 1)
    const [time, id, sign, ...more] = (value ?? '').split('.')
    const until = Number(time)
    if (!id || !sign || more.length || !(until > Date.now() / 1000) || this.ended.has(id)) return null
    return equal(Buffer.from(sign), Buffer.from(this.sign(until, id))) ? { id, until } : null
  }

  /** Whether a request carries a login that still holds. */
  known(request: IncomingMessage): boolean {
    return this.held(request) !== null
  }

  /** Ends the login of a request, whoever else has its cookie. Gives the cookie that takes it away. */
  leave(request: IncomingMessage): string {
    const login = this.held(request)
    if (login) this.ended.add(login.id, login.until)
    return this.cookie('', 0)
  }

  /** Tries a phrase from an address. A cookie to set, or why not: `wrong`, or the seconds to wait. */
  async enter(phrase: string, address: string): Promise<{ cookie: string } | { wrong: true } | { wait: number }> {
    try {
      await Promise.all([this.one.consume(address), this.all.consume('all')])
    } catch (limit) {
      const { msBeforeNext } = limit as { msBeforeNext?: number }
      if (msBeforeNext === undefined) throw limit
      return { wait: Math.ceil(msBeforeNext / 1000) }
    }
    const hash = await derive(phrase, Buffer.from(this.kept.salt, 'hex'), 32)
    if (!equal(hash, Buffer.from(this.kept.hash, 'hex'))) return { wrong: true }
    await Promise.all([this.one.delete(address), this.all.reward('all', 1)]) // who knows it is no guesser
    const until = Math.floor(Date.now() / 1000) + holds
    const id = randomBytes(16).toString('hex')
    return { cookie: this.cookie(`${until}.${id}.${this.sign(until, id)}`, holds) }
  }

  private cookie(value: string, age: number): string {
    return `${cookieName}=${value}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${this.secure ? '; Secure' : ''}`
  }
}
