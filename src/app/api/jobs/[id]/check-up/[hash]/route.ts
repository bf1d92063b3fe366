import { eq } from 'drizzle-orm'
import { requestCheckUp } from '@/server/compute/queue'
import { database } from '@/server/db/client'
import { checkUps } from '@/server/db/schema'
import { requireHash, requireId, respond } from '@/server/http/respond'

/** The check-up of a body: the facts when they are known, else null, and an event when they are. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; hash: string }> }) =>
  respond(request, async () => {
    const { id, hash } = await params
    const { db } = database()
    const [row] = await db
      .select({ checkUp: checkUps.checkUp })
      .from(checkUps)
      .where(eq(checkUps.hash, requireHash(hash)))
    if (!row) await requestCheckUp(hash, requireId(id))
    return { checkUp: row?.checkUp ?? null }
  })
