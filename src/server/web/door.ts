/** Who may come in: the addresses this bench answers under, where writes may come from, and what pages may do. */
import type { IncomingMessage } from 'node:http'
import { hostname, networkInterfaces } from 'node:os'

/** A refusal: status and a sentence. */
export interface Refusal {
  readonly status: number
  readonly code: string
  readonly message: string
}

/** The `host:port` forms that a bench started on `host` answers to, lower case. */
export function ownNames(host: string, port: number): Set<string> {
  const bare = host.replace(/^\[|\]$/g, '')
  const names = new Set(['127.0.0.1', 'localhost', '[::1]'])
  const shown = (h: string) => (h.includes(':') ? `[${h}]` : h).toLowerCase()
  if (bare === '0.0.0.0' || bare === '::') {
    names.add(hostname().toLowerCase())
    for (const list of Object.values(networkInterfaces())) for (const a of list ?? []) names.add(shown(a.address))
  } else names.add(shown(bare))
  const standard = port === 80 || port === 443 ? [...names] : []
  return new Set([...[...names].map((n) => `${n}:${port}`), ...standard])
}

/** Methods that anything here answers to. */
const methods = new Set(['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE'])

/** Refuses methods that nothing here answers to; TRACE would show a page its own cookies. */
export const wrongMethod = (method: string | undefined): Refusal | null =>
  methods.has(method ?? '')
    ? null
    : { status: 405, code: 'wrong-method', message: 'This bench does not answer to that method.' }

/**
 * The path of a request as the framework will serve it, percent signs decoded once; null for one that could be read in two ways: with dot
 * segments, doubled or backward slashes, an encoded slash, dot or percent sign, control characters, or another address before it
 * (RFC 3986, 3.3 and 6.2.2). Browsers send none of these.
 */
export function pathOf(url: string | undefined): string | null {
  const raw = (url ?? '').split(/[?#]/)[0]
  if (!raw.startsWith('/') || /%(2f|5c|2e|25|00)/i.test(raw)) return null
  let path: string
  try {
    path = decodeURIComponent(raw)
  } catch {
    return null
  }
  if (/[\\\u0000-\u001f\u007f]|\/\//.test(path)) return null
  return path.split('/').some((part) => part === '.' || part === '..') ? null : path
}

/** What may be seen before the pass phrase is given: the login page and what it is made of. */
export const isOpen = (path: string): boolean =>
  path === '/login' ||
  path === '/icon.svg' ||
  /^\/_next\/static\/[\w.~@[\]()-]+(\/[\w.~@[\]()-]+)*\.(js|css|woff2|svg|png|ico)$/.test(path)

const safe = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Refuses what another site sent: a Host that is not ours (DNS rebinding: a foreign name that resolves to this machine), and writes whose
 * Origin is not ours. A write without an Origin comes from no browser page (Fetch standard: browsers send one with every POST).
 */
export function refusal(request: IncomingMessage, names: ReadonlySet<string>): Refusal | null {
  const { host, origin } = request.headers
  const site = request.headers['sec-fetch-site']
  if (!host || !names.has(host.toLowerCase()))
    return { status: 421, code: 'wrong-host', message: 'This bench does not answer under that address.' }
  const foreign = { status: 403, code: 'forbidden', message: 'This request came from another site and was refused.' }
  const here = origin === undefined || [...names].some((n) => origin === `http://${n}` || origin === `https://${n}`)
  if (!safe.has(request.method ?? 'GET') && (!here || (site && site !== 'same-origin' && site !== 'none')))
    return foreign
  if (site === 'cross-site' && request.headers['sec-fetch-dest'] !== 'document') return foreign
  return null
}

/** Headers of every answer. */
export const everywhere: Record<string, string> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin', // with none at all, browsers send forms with `Origin: null`
  'x-frame-options': 'DENY',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'permissions-policy': 'camera=(), microphone=(), geolocation=(), payment=(), usb=()',
}

const policy = (script: string) =>
  [
    "default-src 'self'",
    `script-src ${script}`,
    "style-src 'self' 'unsafe-inline'", // the interface library sets inline styles
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ')

/** Content-Security-Policy of a page: its own scripts by their nonce, and WebAssembly. */
export const pagePolicy = (nonce: string): string =>
  policy(`'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`)
/** Of a script file: it rules what a worker made of it may do. The kernels' glue code makes small functions from text. */
export const scriptPolicy = policy("'self' 'unsafe-eval' 'wasm-unsafe-eval'")
/** Of data: nothing may run, wherever it is opened. */
export const dataPolicy = "default-src 'none'; sandbox; frame-ancestors 'none'"
