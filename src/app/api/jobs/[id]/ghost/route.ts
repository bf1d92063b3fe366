import { z } from 'zod'
import { parseRecipe } from '@/core/recipe/recipe'
import { requestRun } from '@/server/compute/queue'
import { database } from '@/server/db/client'
import { readJson, requireId, respond } from '@/server/http/respond'
import { requireJob } from '@/server/store/jobs'

/** Evaluates a recipe that is not applied; its results are kept, so applying it is at once. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { recipe } = await readJson(request, z.object({ recipe: z.unknown() }).strict())
    const parsed = parseRecipe(recipe)
    const { db } = database()
    await requireJob(db, id)
    return { run: await requestRun(db, id, parsed, { ghost: true }) }
  })
