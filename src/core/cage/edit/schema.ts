/** Edits of a cage, as recipes keep them: what is done, to which points, edges or faces, and by how much. */
import { z } from 'zod'
import { triple } from '@/core/find/triple'

const finite = z.number().finite()
const places = z.array(triple).min(1).max(20_000)
const length = finite.min(-1e5).max(1e5)

/**
 * What an edit is done to, by places in model space on the cage as it is by then: points where they lie, edges by their middles, faces by the
 * mean of their corners. The nearest one is meant.
 */
const target = {
  points: places.optional(),
  edges: places.optional(),
  faces: places.optional(),
}
/** The same is done on the other side of a plane square to x, y or z, at 0 unless it is told. */
const both = { symmetric: z.enum(['x', 'y', 'z']).optional(), symmetricAt: length.optional() }
/** Points farther off along the cage's edges go with it less and less, up to this reach, mm. */
const soft = { reach: finite.min(0).max(1e5).optional() }

const one = <K extends string, S extends z.ZodRawShape>(kind: K, shape: S) =>
  z.object({ do: z.literal(kind), ...shape }).strict()

export const cageEditSchema = z.discriminatedUnion('do', [
  one('move', { ...target, ...both, ...soft, by: triple }),
  one('push', { ...target, ...both, ...soft, distance: length }),
  one('turn', { ...target, ...both, ...soft, at: triple, axis: triple, angle: finite.min(-3600).max(3600) }),
  one('scale', { ...target, ...both, ...soft, at: triple, by: triple }),
  one('flatten', { ...target, ...both, normal: triple.optional() }),
  one('straighten', { ...target, ...both }),
  one('relax', { ...target, times: finite.int().min(1).max(200) }),
  one('snap', { ...target }),
  one('re-fit', { ...target }),
  one('sharpen', { ...target, ...both, sharpness: z.union([finite.min(0).max(10), z.literal('always')]) }),
  one('extrude', { ...target, ...both, distance: length.optional(), by: triple.optional() }),
  // Between two edges of one ring, or all round it.
  one('loop', { ...target, ...both, share: finite.gt(0).lt(1), between: z.boolean().optional() }),
  one('slide', { ...target, ...both, share: finite.gt(-1).lt(1) }),
  one('bridge', { ...target, ...both, rows: finite.int().min(1).max(200) }),
  one('fill', { ...target, ...both }),
  one('face', { at: z.array(triple).length(4) }),
  one('merge', { ...target, ...both, at: z.enum(['middle', 'first', 'last']) }),
  one('weld', { ...target, within: finite.gt(0).max(1e4) }),
  one('split', { ...target, ...both }),
  one('dissolve', { ...target, ...both }),
  one('delete', { ...target, ...both }),
  one('mirror', { axis: z.enum(['x', 'y', 'z']), keep: z.enum(['+', '-']), at: length.optional() }),
  one('thicken', { distance: length }),
  one('subdivide', {}),
])
export type CageEdit = z.infer<typeof cageEditSchema>
export type EditKind = CageEdit['do']
export type EditOf<K extends EditKind> = Extract<CageEdit, { do: K }>
export type Axis = 'x' | 'y' | 'z'
export interface Target {
  readonly points?: readonly (readonly [number, number, number])[] | undefined
  readonly edges?: readonly (readonly [number, number, number])[] | undefined
  readonly faces?: readonly (readonly [number, number, number])[] | undefined
}

/** The words of each, for cards, lists and refusals. */
export const editWords: Readonly<Record<EditKind, string>> = {
  move: 'Move',
  push: 'Push',
  turn: 'Turn',
  scale: 'Scale',
  flatten: 'Flatten',
  straighten: 'Straighten',
  relax: 'Relax',
  snap: 'Snap to the scan',
  're-fit': 'Re-fit to the scan',
  sharpen: 'Sharpen',
  extrude: 'Extrude',
  loop: 'Insert loop',
  slide: 'Slide',
  bridge: 'Bridge',
  fill: 'Fill hole',
  face: 'Draw face',
  merge: 'Merge',
  weld: 'Weld',
  split: 'Split',
  dissolve: 'Dissolve',
  delete: 'Delete',
  mirror: 'Mirror',
  thicken: 'Thicken',
  subdivide: 'Subdivide',
}
