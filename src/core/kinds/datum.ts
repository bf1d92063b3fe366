/** The kind `datum`: a plane, axis or point to refer to, drawn lightly. */
import { z } from 'zod'
import { num } from '@/core/base/say'
import type { DatumBody } from '@/core/bodies/body'
import { badBody } from '@/core/bodies/container'
import { applyPoint } from '@/core/math/affine'
import { addScaled, cross, length, normalize, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { drawingPlane } from '@/core/outline/drawing'
import { defineKind } from './kind'
import { placeOf } from './place'

const triple = z.tuple([z.number(), z.number(), z.number()])
const headSchema = z.object({
  datum: z.enum(['plane', 'axis', 'point']),
  at: triple,
  direction: triple,
  drawn: z.number().positive(),
})

/** The segments a datum is drawn by, as point pairs. */
function segments({ datum, at, direction, drawn }: DatumBody): Vec3[] {
  const half = drawn / 2
  if (datum === 'axis') return [addScaled(at, direction, -half), addScaled(at, direction, half)]
  if (datum === 'point')
    return (
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ] as const
    ).flatMap((w) => [addScaled(at, w, -half), addScaled(at, w, half)])
  const { x, normal } = drawingPlane(at, direction)
  const y = cross(normal, x)
  const corner = (u: number, v: number) => addScaled(addScaled(at, x, u * half), y, v * half)
  const ring = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)]
  // A short stroke at the middle tells which way it faces.
  return [...ring.flatMap((p, i) => [p, ring[(i + 1) % 4]]), at, addScaled(at, normal, 0.3 * half)]
}

const bounds = (b: DatumBody) => {
  const all = segments(b)
  const min = [0, 1, 2].map((k) => Math.min(...all.map((p) => p[k]))),
    max = [0, 1, 2].map((k) => Math.max(...all.map((p) => p[k])))
  return { min: [min[0], min[1], min[2]] as Vec3, max: [max[0], max[1], max[2]] as Vec3 }
}

const words = (v: Vec3) => v.map((c) => num(c, 3)).join(', ')

export const datumKind = defineKind<DatumBody>({
  kind: 'datum',
  title: 'datum',
  version: 1,
  pack: ({ datum, at, direction, drawn }) => ({ head: { datum, at, direction, drawn }, arrays: [] }),
  unpack(from) {
    const head = headSchema.safeParse(from.head)
    if (!head.success) throw badBody('the head is damaged')
    return { kind: 'datum', ...head.data }
  },
  bounds,
  move(b, map) {
    const at = applyPoint(map, b.at)
    const moved = (w: Vec3) => sub(applyPoint(map, addScaled(b.at, w, 1)), at)
    // A normal follows the plane it stands on, which under an uneven scale is not where it would go by itself.
    const x = perpendicular(b.direction)
    const along = moved(b.direction)
    const normal = cross(moved(x), moved(cross(b.direction, x)))
    const way = b.datum === 'plane' ? normal : along
    const size = b.datum === 'plane' ? Math.sqrt(length(normal)) : length(along)
    // A mirror turns the normal with the body.
    const side = b.datum === 'plane' && normal[0] * along[0] + normal[1] * along[1] + normal[2] * along[2] < 0 ? -1 : 1
    const direction = normalize([side * way[0], side * way[1], side * way[2]])
    return Promise.resolve({ ...b, at, direction, drawn: b.drawn * (size || 1) })
  },
  facts(b) {
    const { min, max } = bounds(b)
    return {
      ...placeOf({ min, size: [0, 1, 2].map((k) => max[k] - min[k]) }),
      sound: true,
      badge: b.datum,
      rows: [
        { key: 'at', label: 'At', value: words(b.at), as: 'words' },
        ...(b.datum === 'point'
          ? []
          : [
              {
                key: 'direction',
                label: b.datum === 'plane' ? 'Square to' : 'Along',
                value: words(b.direction),
                as: 'words',
              } as const,
            ]),
      ],
      figures: {},
    }
  },
  draw: (b) => ({ lines: { points: Float32Array.from(segments(b).flat()) } }),
})
