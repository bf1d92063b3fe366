/** The pass phrase at the door of a bench that other machines may reach: checked slowly, rarely, and remembered by a signed cookie. */
import { createHmac, scrypt, timingSafeEqual } from 'node:crypto'
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

export class Login {
  private readonly one = new RateLimiterMemory({ points: perAddress, duration: 300 })
  private readonly all = new RateLimiterMemory({ points: inAll, duration: 300 })
  /** `secure`: the bench is reached over TLS, so the cookie may not travel without. */
  constructor(
    private readonly kept: KeptPhrase,
    private readonly secure: boolean,
  ) {}

  private sign(until: number): string {
    return createHmac('sha256', Buffer.from(this.kept.secret, 'hex')).update(String(until)).digest('hex')
  }

  /** Whether a request carries a login that still holds. */
  known(request: IncomingMessage): boolean {
    const value = (request.headers.cookie ?? '')
      .split(/;\s*/)
      .find((c) => c.startsWith(`${cookieName}=`))
      ?.slice(cookieName.length + 1)
    const [until, sign] = (value ?? '').split('.')
    return (
      Number(until) > Date.now() / 1000 && !!sign && equal(Buffer.from(sign), Buffer.from(this.sign(Number(until))))
    )
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
    return { cookie: this.cookie(`${until}.${this.sign(until)}`, holds) }
  }

  /** The cookie that ends a login. */
  get leave(): string {
    return this.cookie('', 0)
  }

  private cookie(value: string, age: number): string {
    return `${cookieName}=${value}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${this.secure ? '; Secure' : ''}`
  }
}
