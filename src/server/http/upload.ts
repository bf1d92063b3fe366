/** Takes an uploaded file: refused as soon as it grows too large, kept under the hash of its bytes. */
import { createHash } from 'node:crypto'
import type { Db } from '@/server/db/client'
import { StepError } from '@/core/base/step-error'
import { putBlob } from '@/server/store/blobs'
import { requireSpace } from '@/server/store/space'
import { readBody } from './body'

/** Largest upload, bytes. */
export const uploadLimit = Number(process.env.GLUE_BENCH_UPLOAD_MB ?? 512) * 2 ** 20

export async function storeUpload(db: Db, request: Request): Promise<{ hash: string; size: number }> {
  await requireSpace(Math.min(uploadLimit, Number(request.headers.get('content-length') ?? 0)))
  const bytes = await readBody(
    request,
    uploadLimit,
    () =>
      new StepError('too-large', `Files may have at most ${Math.round(uploadLimit / 2 ** 20)} MB.`, {
        tryThis: 'Simplify or split the file first.',
      }),
  )
  if (!bytes.length) throw new StepError('bad-request', 'The file is empty.')
  const hash = createHash('sha256').update(bytes).digest('hex')
  await putBlob(db, hash, bytes)
  return { hash, size: bytes.length }
}
