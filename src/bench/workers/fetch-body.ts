/** A body by its content hash, from the server; one that is away is asked again until it is back. */
import type { Body } from '@/core/bodies/body'
import { decodeBody } from '@/core/kinds/registry'

/** Between two tries, ms. */
const pause = 1000

/** Rejects when the server is there and has no such body. */
export async function fetchBody(hash: string): Promise<Body> {
  for (;;) {
    const bytes = await fetch(`/api/blobs/${hash}`)
      .then(
        async (r) => {
          if (r.ok) return new Uint8Array(await r.arrayBuffer())
          if (r.status < 500) throw new Refused(r.status)
          return null
        },
        () => null,
      )
      .catch((error: unknown) => {
        if (error instanceof Refused) throw new Error(`body ${hash.slice(0, 8)} could not be loaded (${error.status})`)
        return null // cut off on the way
      })
    if (bytes) return decodeBody(bytes)
    await new Promise((r) => setTimeout(r, pause))
  }
}

class Refused extends Error {
  constructor(readonly status: number) {
    super(String(status))
  }
}
