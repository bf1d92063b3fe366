import { z } from 'zod'
import { database } from '@/server/db/client'
import { keepFor, readJson, requireId, respond } from '@/server/http/respond'
import { deleteJob, ensureRun, jobState, renameJob } from '@/server/store/jobs'

type Params = { params: Promise<{ id: string }> }
export const dynamic = 'force-dynamic'
/** All a screen needs of a job. Opening one whose head has no run asks for it. */
export const GET = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const id = requireId((await params).id)
    const { db } = database()
    await ensureRun(db, id)
    const state = await jobState(db, id)
    // One that should be under way is looked after again soon.
    const open = state.run?.state === 'waiting' || state.run?.state === 'running'
    return keepFor(open ? 2 : 60, state)
  })
export const PATCH = (request: Request, { params }: Params) =>
  respond(request, async () => {
    const { title } = await readJson(request, z.object({ title: z.string().trim().min(1).max(120) }).strict())
    await renameJob(database().db, requireId((await params).id), title)
    return null
  })
export const DELETE = (request: Request, { params }: Params) =>
  respond(request, async () => {
    await deleteJob(database().db, requireId((await params).id))
    return null
  })
