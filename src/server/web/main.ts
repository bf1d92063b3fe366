/** The web server: checks who comes in and sets what every answer carries, then lets the framework answer. */
import { randomBytes } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { createServer as createTlsServer } from 'node:https'
import path from 'node:path'
import next from 'next'
import {
  dataPolicy,
  everywhere,
  isOpen,
  ownNames,
  pagePolicy,
  pathOf,
  refusal,
  scriptPolicy,
  wrongMethod,
} from './door'
import { watchAll } from '@/server/http/events'
import { ReplyCache } from './reply-cache'
import { EndedLogins, Login, type KeptPhrase } from './login'

const host = process.env.GLUE_BENCH_HOST ?? '127.0.0.1'
const port = Number(process.env.GLUE_BENCH_PORT ?? 4173)
const certificate = process.env.GLUE_BENCH_CERTIFICATE,
  key = process.env.GLUE_BENCH_KEY
const names = ownNames(host, port)
const login = process.env.GLUE_BENCH_DOOR
  ? new Login(
      JSON.parse(process.env.GLUE_BENCH_DOOR) as KeptPhrase,
      !!certificate,
      new EndedLogins(process.env.GLUE_BENCH_ENDED_LOGINS),
    )
  : null

function answer(response: ServerResponse, status: number, error: { code: string; message: string; tryThis?: string }) {
  const text = JSON.stringify({ error })
  // What is left of a refused body is not read: the connection ends.
  response.writeHead(status, {
    'content-type': 'application/json',
    'content-length': Buffer.byteLength(text),
    connection: 'close',
  })
  response.end(text)
}

/** The text of a small body; null when it is too long. */
async function smallBody(request: IncomingMessage): Promise<string | null> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of request as AsyncIterable<Buffer>) {
    size += part.length
    if (size > 4096) return null
    parts.push(part)
  }
  return Buffer.concat(parts).toString('utf8')
}

async function logIn(gate: Login, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const text = await smallBody(request)
  if (text === null) return answer(response, 413, { code: 'too-large', message: 'A pass phrase is not that long.' })
  const phrase = new URLSearchParams(text).get('phrase') ?? ''
  const tried = await gate.enter(phrase, request.socket.remoteAddress ?? '')
  const to = (where: string, headers: Record<string, string> = {}) =>
    response.writeHead(303, { location: where, ...headers }).end()
  if ('cookie' in tried) to('/', { 'set-cookie': tried.cookie })
  else if ('wait' in tried) to(`/login?wait=${tried.wait}`, { 'retry-after': String(tried.wait) })
  else to('/login?wrong')
}

/** A request whose body stops coming for so long ends, ms. */
const patience = 10_000

/** Ends a request that was sent by half: nothing more of it came for a while. Its body is left to whoever reads it. */
function endHalfSent(request: IncomingMessage, response: ServerResponse): void {
  if (request.complete) return
  let [read, since] = [request.socket.bytesRead, Date.now()]
  const look = setInterval(() => {
    if (request.complete) return clearInterval(look)
    const now = request.socket.bytesRead
    if (now !== read) [read, since] = [now, Date.now()]
    else if (Date.now() - since >= patience) request.socket.destroy()
  }, 1000)
  response.once('close', () => clearInterval(look))
}

async function main(): Promise<void> {
  const app = next({ dev: false, dir: path.resolve(import.meta.dirname, '..'), hostname: host, port })
  await app.prepare()
  const handle = app.getRequestHandler()
  const replies = new ReplyCache()
  watchAll({
    event(job, e) {
      if (e.type !== 'progress' && !('ghost' in e && e.ghost)) replies.changed(job)
    },
    connected(now) {
      replies.on = now
      replies.changed()
    },
  })

  async function serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    for (const [k, v] of Object.entries(everywhere)) response.setHeader(k, v)
    endHalfSent(request, response)
    const refused = wrongMethod(request.method) ?? refusal(request, names)
    if (refused) return answer(response, refused.status, { code: refused.code, message: refused.message })
    // Judged as it will be served, or not served at all.
    const where = pathOf(request.url)
    if (where === null) return answer(response, 400, { code: 'bad-path', message: 'This address cannot be read.' })
    delete request.headers['content-security-policy']
    if (where.startsWith('/_next/')) response.setHeader('content-security-policy', scriptPolicy)
    else if (where.startsWith('/api/')) response.setHeader('content-security-policy', dataPolicy)
    else {
      const policy = pagePolicy(randomBytes(16).toString('base64'))
      response.setHeader('content-security-policy', policy)
      request.headers['content-security-policy'] = policy // the framework takes the nonce from here
    }
    if (login) {
      if (where === '/api/login' && request.method === 'POST') return logIn(login, request, response)
      if (where === '/api/logout' && request.method === 'POST')
        return void response.writeHead(303, { location: '/login', 'set-cookie': login.leave(request) }).end()
      if (!login.known(request) && !isOpen(where)) {
        if (where.startsWith('/api/'))
          return answer(response, 401, { code: 'locked', message: 'This bench asks for its pass phrase.' })
        return void response.writeHead(303, { location: '/login' }).end()
      }
    }
    if (!(await replies.answer(request, response))) await handle(request, response)
  }

  const listener = (request: IncomingMessage, response: ServerResponse) => {
    serve(request, response).catch((error: unknown) => {
      console.error(error)
      if (!response.headersSent)
        answer(response, 500, {
          code: 'unexpected',
          message: 'Something went wrong on the server.',
          tryThis: 'Try again.',
        })
      else response.destroy()
    })
  }
  // How often connections are looked over.
  const often = { connectionsCheckingInterval: 1000 }
  const server =
    certificate && key
      ? createTlsServer({ cert: readFileSync(certificate), key: readFileSync(key), ...often }, listener)
      : createServer(often, listener)
  server.headersTimeout = patience
  server.requestTimeout = 3_600_000 // a large upload over a slow line
  server.keepAliveTimeout = 30_000
  server.once('error', (error) => {
    console.error(`cannot listen: ${error.message}`)
    process.exit(1)
  })
  server.listen(port, host, () => console.log('ready'))
  const stop = () => {
    server.close(() => process.exit(0))
    server.closeAllConnections()
    setTimeout(() => process.exit(0), 500).unref()
  }
  process.on('SIGTERM', stop)
  process.on('SIGINT', stop)
  // Whoever started this process has ended: so does this one.
  if (process.env.GLUE_BENCH_CHILD) process.stdin.on('close', stop).resume()
}

main().catch((error: unknown) => {
  console.error(error)
  process.exit(1)
})
