import { sql } from 'drizzle-orm'
import { database } from '@/server/db/client'
import { respond } from '@/server/http/respond'

export const dynamic = 'force-dynamic'
/** Which parts answer: this server by answering at all, the database, and whether a compute process has said so lately. */
export const GET = (request: Request) =>
  respond(request, async () => {
    const { rows } = await database().db.execute(
      sql`select exists (select 1 from workers where beat > now() - interval '15 seconds') as compute`,
    )
    return { ok: true, compute: (rows[0] as { compute: boolean }).compute }
  })
