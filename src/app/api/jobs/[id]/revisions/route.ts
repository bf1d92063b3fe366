import { z } from 'zod'
import { database } from '@/server/db/client'
import { readJson, requireId, respond } from '@/server/http/respond'
import { jobState, revise } from '@/server/store/jobs'

const body = z
  .object({ base: z.uuid(), label: z.string().max(200), recipe: z.unknown(), hold: z.boolean().optional() })
  .strict()
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { base, label, recipe, hold } = await readJson(request, body)
    const { db } = database()
    await revise(db, id, base, recipe, label, hold)
    return jobState(db, id)
  })
