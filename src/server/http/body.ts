/** The body of a request, read as it streams in. */
import { StepError } from '@/core/base/step-error'

/** All bytes of a body; refused with `too-large` (in the words of `tooLarge`) as soon as it is, or says it is, longer than `most`. */
export async function readBody(request: Request, most: number, tooLarge: () => StepError): Promise<Uint8Array> {
  const stated = Number(request.headers.get('content-length') ?? NaN)
  if (stated > most) throw tooLarge()
  const parts: Uint8Array[] = []
  let size = 0
  const reader = request.body?.getReader()
  while (reader) {
    const { done, value } = await reader.read()
    if (done) break
    size += value.length
    if (size > most) {
      await reader.cancel()
      throw tooLarge()
    }
    parts.push(value)
  }
  if (Number.isFinite(stated) && stated !== size)
    throw new StepError('bad-request', 'What was sent was cut off on the way.', { tryThis: 'Send it again.' })
  const bytes = new Uint8Array(size)
  let at = 0
  for (const p of parts) {
    bytes.set(p, at)
    at += p.length
  }
  return bytes
}
