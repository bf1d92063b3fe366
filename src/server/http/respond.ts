/** What every route handler shares: same-origin writes, clear errors, JSON. */
import type { z } from 'zod'
import { isDiskFull } from '@/core/base/disk-full'
import { isAway } from '@/server/db/away'
import { fullDisk } from '@/server/store/space'
import { readBody } from './body'
import { sayIssues } from '@/core/recipe/recipe'
import { reportError, StepError, type ErrorReport } from '@/core/base/step-error'

const statusOf: Record<string, number> = {
  'not-found': 404,
  'out-of-date': 409,
  'no-more': 409,
  'too-large': 413,
  'disk-full': 507,
  forbidden: 403,
  'bad-request': 400,
  'bad-recipe': 400,
  'bad-settings': 400,
}

/** Carries for how many seconds an answer may be kept by the web server when nothing changes meanwhile. */
export const keepHeader = 'x-keep-seconds'

/** An answer that may be kept. */
export const keepFor = (seconds: number, value: object): Response =>
  Response.json(value, { headers: { [keepHeader]: String(seconds) } })

/** Runs a handler; a failure becomes a sentence with a fitting status. Writes must come from our own pages. */
export async function respond(request: Request, work: () => Promise<Response | object | null>): Promise<Response> {
  try {
    if (request.method !== 'GET' && request.method !== 'HEAD') requireSameOrigin(request)
    const result = await work()
    return result instanceof Response ? result : Response.json(result ?? { ok: true })
  } catch (error) {
    const { report, status } = await told(error)
    return Response.json({ error: report }, { status })
  }
}

const away = {
  code: 'database-away',
  message: 'The database is not answering just now.',
  tryThis: 'Wait a moment; nothing applied is lost.',
}
const unknown = { code: 'unexpected', message: 'Something went wrong on the server.', tryThis: 'Try again.' }

/** A failure as it is answered; what is no sentence yet goes to the log. */
async function told(error: unknown): Promise<{ report: ErrorReport; status: number }> {
  const known = (e: unknown) => {
    const report = reportError(e)
    return { report, status: statusOf[report.code] ?? 422 }
  }
  if (error instanceof StepError || isDiskFull(error)) return known(error)
  if (!isAway(error)) {
    console.error(error)
    return { report: unknown, status: 500 }
  }
  console.error(String(error).slice(0, 200))
  const full = await fullDisk()
  return full ? known(full) : { report: away, status: 503 }
}

function requireSameOrigin(request: Request): void {
  const origin = request.headers.get('origin')
  const site = request.headers.get('sec-fetch-site')
  const host = request.headers.get('host')
  const ours = (o: string) => URL.canParse(o) && new URL(o).host === host
  if (origin !== null ? !ours(origin) : site !== null && site !== 'same-origin' && site !== 'none')
    throw new StepError('forbidden', 'This request came from another site and was refused.')
}

/** Most bytes of a request that is no upload. */
const largestRequest = 4 << 20

/** The text of a request; refused when it is too large or no UTF-8. */
async function readText(request: Request): Promise<string> {
  const bytes = await readBody(request, largestRequest, () => new StepError('too-large', 'The request is too large.'))
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    throw new StepError('bad-request', 'The request is not UTF-8 text.')
  }
}

/** What a database cannot keep: NUL, and halves of surrogate pairs. */
const unkeepable = /\\u0000|\0|\\u[dD][89a-fA-F]|[\ud800-\udfff]/u

/** The body of a request by a schema; at most 4 MB. */
export async function readJson<Z extends z.ZodType>(request: Request, schema: Z): Promise<z.output<Z>> {
  const text = await readText(request)
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new StepError('bad-request', 'The request is not JSON.')
  }
  if (unkeepable.test(text) && hasUnkeepable(value))
    throw new StepError(
      'bad-request',
      'The request holds characters that cannot be kept (NUL, or half a surrogate pair).',
    )
  const parsed = schema.safeParse(value)
  if (!parsed.success) throw new StepError('bad-request', `The request is not right: ${sayIssues(parsed.error)}.`)
  return parsed.data
}

/** Whether any text or key in a value cannot be kept. */
export function hasUnkeepable(value: unknown): boolean {
  if (typeof value === 'string') return value.includes('\0') || /[\ud800-\udfff]/u.test(value)
  if (typeof value !== 'object' || value === null) return false
  const entries = Array.isArray(value) ? value : Object.entries(value).flat()
  return entries.some(hasUnkeepable)
}

const uuid = /^[0-9a-f]{8}-([0-9a-f]{4}-){3}[0-9a-f]{12}$/i
export function requireId(id: string): string {
  if (!uuid.test(id)) throw new StepError('not-found', 'This does not exist (any more).')
  return id
}
export function requireHash(hash: string): string {
  if (!/^[0-9a-f]{64}$/.test(hash)) throw new StepError('not-found', 'These bytes do not exist (any more).')
  return hash
}
