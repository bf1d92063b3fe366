import { cancelRuns } from '@/server/compute/queue'
import { database } from '@/server/db/client'
import { requireId, respond } from '@/server/http/respond'
import { runView } from '@/server/store/jobs'
import { StepError } from '@/core/base/step-error'

type Params = { params: Promise<{ id: string }> }
export const GET = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const view = await runView(database().db, requireId((await params).id))
    if (!view) throw new StepError('not-found', 'This run does not exist (any more).')
    return view
  })
export const DELETE = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    await database().db.transaction((tx) => cancelRuns(tx, [id]))
    return null
  })
