import { database } from '@/server/db/client'
import { requireId, respond } from '@/server/http/respond'
import { jobState } from '@/server/store/jobs'

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => {
    const state = await jobState(database().db, requireId((await params).id))
    const name = `${state.title.replace(/[^\w -]/g, '_')}.json`
    return new Response(`${JSON.stringify({ ...state.recipe, title: state.title }, null, 2)}\n`, {
      headers: { 'content-type': 'application/json', 'content-disposition': `attachment; filename="${name}"` },
    })
  })
