import { z } from 'zod'
import { requestRun, tell } from '@/server/compute/queue'
import { database } from '@/server/db/client'
import { readJson, requireId, respond } from '@/server/http/respond'
import { jobState, travel } from '@/server/store/jobs'

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { go } = await readJson(request, z.object({ go: z.enum(['undo', 'redo']) }).strict())
    const { db } = database()
    const to = await travel(db, id, go)
    await requestRun(db, id, to.recipe, { revision: to.revision })
    await tell(db, id, { type: 'job' })
    return jobState(db, id)
  })
