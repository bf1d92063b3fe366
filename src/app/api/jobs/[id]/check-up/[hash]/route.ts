import { eq } from 'drizzle-orm'
import { StepError } from '@/core/base/step-error'
import { requestCheckUp } from '@/server/compute/queue'
import { database } from '@/server/db/client'
import { checkUps } from '@/server/db/schema'
import { requireHash, requireId, respond } from '@/server/http/respond'
import { isBody } from '@/server/store/blobs'
import { requireJob } from '@/server/store/jobs'

/** The check-up of a body: the facts when they are known, else null, and an event when they are. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; hash: string }> }) =>
  respond(request, async () => {
    const { id, hash } = await params
    requireId(id)
    requireHash(hash)
    const { db } = database()
    const [row] = await db.select({ checkUp: checkUps.checkUp }).from(checkUps).where(eq(checkUps.hash, hash))
    if (row) return { checkUp: row.checkUp }
    await requireJob(db, id)
    if (!(await isBody(db, hash))) throw new StepError('not-found', 'This body does not exist (any more).')
    await requestCheckUp(db, hash, id)
    return { checkUp: null }
  })
