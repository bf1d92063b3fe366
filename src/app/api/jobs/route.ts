import { z } from 'zod'
import { recipeSchema } from '@/core/recipe/recipe'
import { database } from '@/server/db/client'
import { keepFor, readJson, respond } from '@/server/http/respond'
import { createJob, listJobs } from '@/server/store/jobs'

export const dynamic = 'force-dynamic'
export const GET = (request: Request) => respond(request, async () => keepFor(60, await listJobs(database().db)))

const body = z.object({ title: z.string().trim().min(1).max(120), recipe: recipeSchema.optional() }).strict()
export const POST = (request: Request) =>
  respond(request, async () => {
    const { title, recipe } = await readJson(request, body)
    return createJob(database().db, title, recipe, { run: true })
  })
