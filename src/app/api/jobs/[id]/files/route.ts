import { database } from '@/server/db/client'
import { requireId, respond } from '@/server/http/respond'
import { storeUpload } from '@/server/http/upload'
import { addFile, requireJob } from '@/server/store/jobs'
import { StepError } from '@/core/base/step-error'

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { db } = database()
    await requireJob(db, id)
    // A file's name is a label, never a path.
    const name = (new URL(request.url).searchParams.get('name') ?? '')
      .split(/[\\/]/)
      .at(-1)!
      .replace(/[\u0000-\u001f\u007f]/g, '')
      .replace(/[\ud800-\udfff]/gu, '\ufffd')
      .trim()
      .slice(0, 180)
    if (!name || name === '.' || name === '..') throw new StepError('bad-request', 'The file has no name.')
    const { hash, size } = await storeUpload(db, request)
    return { name: await addFile(db, id, name, hash, size), hash, size }
  })
