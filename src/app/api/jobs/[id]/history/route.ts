import { z } from 'zod'
import { database } from '@/server/db/client'
import { readJson, requireId, respond } from '@/server/http/respond'
import { jobState, travel } from '@/server/store/jobs'

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { go } = await readJson(request, z.object({ go: z.enum(['undo', 'redo']) }).strict())
    const { db } = database()
    await travel(db, id, go)
    return jobState(db, id)
  })
