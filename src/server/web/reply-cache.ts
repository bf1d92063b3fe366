/**
 * Keeps answers to reads until what they tell of changes. A route says for how long its answer may be kept (`keepHeader`, seconds); the events
 * of jobs, and every write that passes here, end it before. While those events cannot be heard nothing is kept.
 */
import type { IncomingMessage, OutgoingHttpHeaders, ServerResponse } from 'node:http'
import { LRUCache } from 'lru-cache'
import { keepHeader } from '@/server/http/respond'

interface Reply {
  readonly headers: OutgoingHttpHeaders
  readonly body: Buffer
  /** When it ends by itself, ms. */
  readonly until: number
  readonly tag: string
}

const mostBytes = 128 * 2 ** 20,
  largest = 4 * 2 ** 20
const uuid = '[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}'
/** Reads whose answers may be kept at all; streams are none of them. */
const readable = new RegExp(`^/api/(?:jobs(?:/${uuid})?|blobs/[0-9a-f]{64})$`, 'i')
const ofJob = new RegExp(`^/api/jobs/(${uuid})(?:/|$)`, 'i')

/** The list of jobs, one job, or nothing that changes. */
const tagOf = (where: string): string => ofJob.exec(where)?.[1].toLowerCase() ?? (where === '/api/jobs' ? 'list' : '')

export class ReplyCache {
  private readonly kept = new LRUCache<string, Reply>({
    maxSize: mostBytes,
    sizeCalculation: (r) => r.body.length + 1000,
  })
  /** How often what a tag stands for has changed: an answer begun before a change is not kept after it. */
  private readonly changes = new Map<string, number>()
  private everything = 0
  /** Answers that are being made. */
  private readonly making = new Map<string, Promise<void>>()
  /** Whether events are heard. */
  on = false

  /** Forgets what tells of a job, and the list; without a job everything. */
  changed(job?: string): void {
    if (job === undefined) {
      this.everything++
      this.kept.clear()
      return
    }
    const tags = [job.toLowerCase(), 'list']
    for (const tag of tags) this.changes.set(tag, (this.changes.get(tag) ?? 0) + 1)
    for (const [key, reply] of this.kept.entries()) if (tags.includes(reply.tag)) this.kept.delete(key)
  }

  private age(tag: string): string {
    return `${this.everything} ${this.changes.get(tag) ?? 0}`
  }

  /** Answers from what is kept, or watches the answer so that it may be. True when it answered. */
  async answer(request: IncomingMessage, response: ServerResponse): Promise<boolean> {
    const url = request.url ?? '/'
    const where = url.split('?')[0]
    if (!where.startsWith('/api/')) return false
    if (request.method !== 'GET') {
      if (request.method !== 'HEAD') this.watchWrite(where, response)
      return false
    }
    if (!this.on || !readable.test(where)) return false
    const key = `${/\bgzip\b/.test(String(request.headers['accept-encoding'] ?? '')) ? 'gz' : '--'} ${url}`
    // Who asks what another is asking already waits for that answer: a crowd after a change makes it once.
    await this.making.get(key)
    const reply = this.kept.get(key)
    if (reply && reply.until > Date.now()) {
      response.writeHead(200, reply.headers)
      response.end(reply.body)
      return true
    }
    const tag = tagOf(where)
    if (tag && !this.making.has(key)) {
      const made = new Promise<void>((resolve) => response.once('close', resolve))
      this.making.set(key, made)
      void made.then(() => this.making.delete(key))
    }
    this.watch(key, tag, response)
    return false
  }

  /** A write changes its job from when it is begun to when it is answered. */
  private watchWrite(where: string, response: ServerResponse): void {
    const job = ofJob.exec(where)?.[1] ?? 'none'
    this.changed(job)
    response.once('close', () => this.changed(job))
    const end = response.end.bind(response) as (...args: unknown[]) => ServerResponse
    response.end = ((...args: unknown[]) => {
      this.changed(job) // before the answer can be read
      return end(...args)
    }) as typeof response.end
  }

  private watch(key: string, tag: string, response: ServerResponse): void {
    const parts: Buffer[] = []
    let size = 0
    const age = this.age(tag)
    const note = (part: unknown, encoding: unknown) => {
      if (size > largest || part === undefined || part === null || typeof part === 'function') return
      const bytes =
        typeof part === 'string'
          ? Buffer.from(part, typeof encoding === 'string' ? (encoding as BufferEncoding) : 'utf8')
          : Buffer.from(part as Uint8Array)
      size += bytes.length
      parts.push(bytes)
    }
    const write = response.write.bind(response) as (...args: unknown[]) => boolean
    const end = response.end.bind(response) as (...args: unknown[]) => ServerResponse
    response.write = ((...args: unknown[]) => {
      note(args[0], args[1])
      return write(...args)
    }) as typeof response.write
    response.end = ((...args: unknown[]) => {
      note(args[0], args[1])
      const seconds = Number(response.getHeader(keepHeader) ?? 0)
      if (seconds > 0 && response.statusCode === 200 && size <= largest && this.on && this.age(tag) === age) {
        const headers = response.getHeaders()
        delete headers['transfer-encoding']
        delete headers.connection
        this.kept.set(key, {
          headers: { ...headers, 'content-length': size },
          body: Buffer.concat(parts),
          until: Date.now() + 1000 * seconds,
          tag,
        })
      }
      return end(...args)
    }) as typeof response.end
  }
}
