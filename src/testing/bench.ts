/** A bench without a screen: bodies, hits, pointers and a view that looks straight down at 1 mm a pixel. */
import type { PerspectiveCamera } from 'three'
import type { BenchView, Hand, Pointer, Screen } from '@/bench/hands/hand'
import type { AreaHit, BoreHit, Hit, PartHit } from '@/bench/picking/worker'
import { activeField } from '@/bench/fields/slot'
import { handOf } from '@/bench/fields/registry'
import type { BenchBody } from '@/bench/state/job'
import { useTool } from '@/bench/state/tool'
import type { BodyFacts } from '@/core/kinds/kind'
import type { Vec3 } from '@/core/math/vec'

export const benchFacts = (kind: string, more: Partial<BodyFacts> = {}): BodyFacts => ({
  kind,
  size: [10, 20, 30],
  min: [0, 0, 0],
  sound: true,
  badge: 'closed',
  rows: [],
  figures: { triangles: 12, volume: 6000, area: 2200 },
  can:
    kind === 'outline' || kind === 'datum'
      ? []
      : kind === 'mesh'
        ? ['surface', 'check']
        : ['surface', 'exact', 'parts', 'check'],
  ...more,
})
export const benchBody = (name: string, kind = 'mesh'): BenchBody => ({
  name,
  hash: `hash of ${name}`,
  facts: benchFacts(kind),
})

export const hitOn = (name: string, point: Vec3, extra: Partial<Hit> = {}): Hit => ({
  name,
  hash: `hash of ${name}`,
  point,
  normal: [0, 0, 1],
  triangle: 0,
  distance: 1,
  ...extra,
})

interface Meets {
  hit?: Hit | null
  part?: PartHit | null
  bore?: BoreHit | null
  area?: AreaHit | null
  shift?: boolean
  alt?: boolean
}

/** A pointer over the view from above: pixels are mm, y up. */
export const pointerAt = (x: number, y: number, meets: Meets = {}): Pointer => ({
  screen: [x, y],
  ray: { origin: [x, y, 1000], direction: [0, 0, -1] },
  shift: meets.shift ?? false,
  alt: meets.alt ?? false,
  hit: () => Promise.resolve(meets.hit ?? null),
  snap: () => Promise.resolve(meets.hit ?? null),
  part: () => Promise.resolve(meets.part ?? null),
  area: () => Promise.resolve(meets.area ?? null),
  bore: () => Promise.resolve(meets.bore ?? null),
  on: (p, n) => (Math.abs(n[2]) < 1e-9 ? null : [x, y, p[2]]),
  along: (p, d) => (Math.hypot(d[0], d[1]) < 1e-9 ? null : (x - p[0]) * d[0] + (y - p[1]) * d[1]),
})

/** What hands see of that bench. */
export function viewFromAbove(bodies: readonly BenchBody[] = []): BenchView {
  const { tool } = useTool.getState()
  return {
    tool,
    field: activeField(tool),
    bodies,
    target: bodies.find((b) => b.name === tool?.values.body) ?? bodies[0],
    camera: {
      position: { x: 0, y: 0, z: 1e4, clone: () => ({}) },
      getWorldDirection: () => ({ x: 0, y: 0, z: -1 }),
    } as unknown as PerspectiveCamera,
    toScreens: (p) => Float64Array.from({ length: (2 * p.length) / 3 }, (_, i) => p[3 * (i >> 1) + (i % 2)]),
    toScreen: (p): Screen => [p[0], p[1]],
    toRay: ([x, y]) => ({ origin: [x, y, 1000], direction: [0, 0, -1] }),
    pixel: () => 1,
    redraw: () => {},
  }
}

/** A click with the tool in hand, as the canvas would route it to the active field. */
export async function clickField(p: Pointer, bodies: readonly BenchBody[] = []): Promise<void> {
  const b = viewFromAbove(bodies)
  const hand: Hand | undefined = b.field ? handOf(b.field.info) : undefined
  await hand?.click?.(p, b)
}
