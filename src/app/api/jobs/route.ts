import { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import { recipeSchema } from '@/core/recipe/recipe'
import { database } from '@/server/db/client'
import { keepFor, readJson, requireId, respond } from '@/server/http/respond'
import { copyJob, createJob, listJobs } from '@/server/store/jobs'

export const dynamic = 'force-dynamic'
export const GET = (request: Request) => respond(request, async () => keepFor(60, await listJobs(database().db)))

const body = z
  .object({
    title: z.string().trim().min(1).max(120).optional(),
    recipe: recipeSchema.optional(),
    copyOf: z.string().optional(),
  })
  .strict()
/** A new job: with a title and perhaps a recipe, or as a copy of another. */
export const POST = (request: Request) =>
  respond(request, async () => {
    const { title, recipe, copyOf } = await readJson(request, body)
    const { db } = database()
    if (copyOf !== undefined) return copyJob(db, requireId(copyOf), title)
    if (title === undefined) throw new StepError('bad-request', 'A new job needs a title.')
    return createJob(db, title, recipe, { run: true })
  })
