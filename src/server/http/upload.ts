/** Takes an uploaded file as it streams in: hashed on the way, refused as soon as it grows too large. */
import { createHash } from 'node:crypto'
import type { Db } from '@/server/db/client'
import { StepError } from '@/core/base/step-error'
import { putBlob } from '@/server/store/blobs'

/** Largest upload, bytes. */
export const uploadLimit = Number(process.env.GLUE_BENCH_UPLOAD_MB ?? 512) * 2 ** 20

export async function storeUpload(db: Db, request: Request): Promise<{ hash: string; size: number }> {
  const stated = Number(request.headers.get('content-length') ?? NaN)
  const tooLarge = () =>
    new StepError('too-large', `Files may have at most ${Math.round(uploadLimit / 2 ** 20)} MB.`, {
      tryThis: 'Simplify or split the file first.',
    })
  if (stated > uploadLimit) throw tooLarge()
  if (!request.body) throw new StepError('bad-request', 'The upload is empty.')
  const hash = createHash('sha256')
  const parts: Uint8Array[] = []
  let size = 0
  const reader = request.body.getReader()
  for (;;) {
    const { done, value } = await reader.read()
    if (done) break
    size += value.length
    if (size > uploadLimit) {
      await reader.cancel()
      throw tooLarge()
    }
    hash.update(value)
    parts.push(value)
  }
  if (!size) throw new StepError('bad-request', 'The file is empty.')
  if (Number.isFinite(stated) && stated !== size)
    throw new StepError('bad-request', 'The upload was cut off.', { tryThis: 'Send it again.' })
  const bytes = new Uint8Array(size)
  let at = 0
  for (const p of parts) {
    bytes.set(p, at)
    at += p.length
  }
  const digest = hash.digest('hex')
  await putBlob(db, digest, bytes)
  return { hash: digest, size }
}
