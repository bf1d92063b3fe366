import { database } from '@/server/db/client'
import { requireId, respond } from '@/server/http/respond'
import { jobState, rerun } from '@/server/store/jobs'

/** Runs the job's recipe again, after a stop. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { db } = database()
    await rerun(db, id)
    return jobState(db, id)
  })
