import { requestRun } from '@/server/compute/queue'
import { database } from '@/server/db/client'
import { requireId, respond } from '@/server/http/respond'
import { jobState } from '@/server/store/jobs'

/** Runs the job's recipe again, after a stop. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { db } = database()
    const state = await jobState(db, id)
    await requestRun(db, id, state.recipe, { revision: state.revision })
    return jobState(db, id)
  })
