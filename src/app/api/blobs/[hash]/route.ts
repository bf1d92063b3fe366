import { StepError } from '@/core/base/step-error'
import { database } from '@/server/db/client'
import { keepHeader, requireHash, respond } from '@/server/http/respond'
import { blobParts, blobSize } from '@/server/store/blobs'

/** Bytes by content hash: the same for ever, so every cache may keep them. `?name=` makes it a download. */
export const GET = (request: Request, { params }: { params: Promise<{ hash: string }> }) =>
  respond(request, async () => {
    const hash = requireHash((await params).hash)
    const { db } = database()
    const size = await blobSize(db, hash)
    if (size === null) throw new StepError('not-found', 'These bytes do not exist (any more).')
    const parts = blobParts(db, hash)
    const stream = new ReadableStream<Uint8Array>({
      async pull(controller) {
        const { done, value } = await parts.next()
        if (done) controller.close()
        else controller.enqueue(value)
      },
    })
    const query = new URL(request.url).searchParams
    const name = query.get('name')
    const type = query.get('as') === 'png' ? 'image/png' : 'application/octet-stream'
    return new Response(stream, {
      headers: {
        'content-type': type,
        'content-length': String(size),
        'cache-control': 'private, max-age=31536000, immutable',
        [keepHeader]: '3600',
        ...(name ? { 'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}` } : {}),
      },
    })
  })
