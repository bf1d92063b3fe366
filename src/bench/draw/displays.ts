/** Display data by content hash: from the picking worker, or straight from a ghost that was made in this browser. */
import { LRUCache } from 'lru-cache'
import type { Shaded } from '@/core/kinds/shade'
import { picking } from '@/bench/picking/client'

const bytesOf = (s: Shaded) =>
  s.positions.byteLength + s.normals.byteLength + s.index.byteLength + s.lines.byteLength + s.points.byteLength

const displays = new LRUCache<string, Promise<Shaded>>({ max: 48 })
const live = new LRUCache<string, Shaded>({ maxSize: 256 << 20, sizeCalculation: (s) => Math.max(1, bytesOf(s)) })

/** Names of bodies that no server knows begin so. */
const liveMark = 'live:'
export const isLive = (hash: string): boolean => hash.startsWith(liveMark)

let count = 0
/** Keeps what a live ghost looks like; gives the name it is drawn under. */
export function adoptDisplay(shaded: Shaded): string {
  const hash = `${liveMark}${++count}`
  live.set(hash, shaded)
  return hash
}

/** Display data of a body; one that comes back is not loaded again. */
export function displayOf(hash: string): Promise<Shaded> {
  const own = live.get(hash)
  if (own) return Promise.resolve(own)
  if (isLive(hash)) return Promise.reject(new Error('this ghost is gone'))
  let d = displays.get(hash)
  if (!d) {
    d = picking().display(hash)
    displays.set(hash, d)
    d.catch(() => displays.delete(hash))
  }
  return d
}
