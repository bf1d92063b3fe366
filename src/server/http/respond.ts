/** What every route handler shares: same-origin writes, clear errors, JSON. */
import type { z } from 'zod'
import { sayIssues } from '@/core/recipe/recipe'
import { reportError, StepError } from '@/core/base/step-error'

const statusOf: Record<string, number> = {
  'not-found': 404,
  'out-of-date': 409,
  'no-more': 409,
  'too-large': 413,
  forbidden: 403,
  'bad-request': 400,
  'bad-recipe': 400,
  'bad-settings': 400,
}

/** Runs a handler; a failure becomes a sentence with a fitting status. Writes must come from our own pages. */
export async function respond(request: Request, work: () => Promise<Response | object | null>): Promise<Response> {
  try {
    if (request.method !== 'GET' && request.method !== 'HEAD') requireSameOrigin(request)
    const result = await work()
    return result instanceof Response ? result : Response.json(result ?? { ok: true })
  } catch (error) {
    const known = error instanceof StepError
    if (!known) console.error(error)
    const away =
      !known &&
      /ECONNREFUSED|terminating connection|Connection terminated|timeout exceeded when trying to connect|the database system is/i.test(
        `${String(error)} ${String((error as { cause?: unknown })?.cause ?? '')}`,
      )
    const report = away
      ? {
          code: 'database-away',
          message: 'The database is not answering just now.',
          tryThis: 'Wait a moment; nothing applied is lost.',
        }
      : known
        ? reportError(error)
        : { code: 'unexpected', message: 'Something went wrong on the server.', tryThis: 'Try again.' }
    return Response.json({ error: report }, { status: away ? 503 : known ? (statusOf[report.code] ?? 422) : 500 })
  }
}

function requireSameOrigin(request: Request): void {
  const origin = request.headers.get('origin')
  const site = request.headers.get('sec-fetch-site')
  const host = request.headers.get('host')
  if (origin ? new URL(origin).host !== host : site !== null && site !== 'same-origin' && site !== 'none')
    throw new StepError('forbidden', 'This request came from another site and was refused.')
}

/** The body of a request by a schema; at most 4 MB. */
export async function readJson<Z extends z.ZodType>(request: Request, schema: Z): Promise<z.output<Z>> {
  const text = await request.text()
  if (text.length > 4 << 20) throw new StepError('too-large', 'The request is too large.')
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new StepError('bad-request', 'The request is not JSON.')
  }
  const parsed = schema.safeParse(value)
  if (!parsed.success) throw new StepError('bad-request', `The request is not right: ${sayIssues(parsed.error)}.`)
  return parsed.data
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
