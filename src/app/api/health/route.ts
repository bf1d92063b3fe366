import { sql } from 'drizzle-orm'
import { database } from '@/server/db/client'
import { respond } from '@/server/http/respond'

export const dynamic = 'force-dynamic'
export const GET = (request: Request) =>
  respond(request, async () => {
    await database().db.execute(sql`select 1`)
    return { ok: true }
  })
