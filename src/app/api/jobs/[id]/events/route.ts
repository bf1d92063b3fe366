import { eventStream } from '@/server/http/events'
import { requireId, respond } from '@/server/http/respond'

export const dynamic = 'force-dynamic'
export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(request, async () => eventStream(requireId((await params).id), request.signal))
