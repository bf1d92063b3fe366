/** Small closed meshes by chance, for laws that hold for every body: of several kinds, sizes, places and turns. */
import fc from 'fast-check'
import { compose, rotation, translation, type Affine } from '@/core/math/affine'
import { normalize, type Vec3 } from '@/core/math/vec'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { box, cylinder, shifted, sphere, torus } from './shapes'

const size = fc.integer({ min: 12, max: 40 }).map((v) => v / 4)
const placeCoordinate = fc.integer({ min: -24, max: 24 }).map((v) => v / 4)

/** A direction, away from the axes. */
export const anyDirection: fc.Arbitrary<Vec3> = fc
  .tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }))
  .map(([x, y, z]) => normalize([x + 0.13, y + 0.29, z + 0.41]))

/** A turn and a way, mm. */
export const anyMove: fc.Arbitrary<Affine> = fc
  .tuple(anyDirection, fc.integer({ min: -170, max: 170 }), placeCoordinate, placeCoordinate, placeCoordinate)
  .map(([axis, angle, x, y, z]) => compose(translation([x, y, z]), rotation(axis, angle)))

/** A body about the origin. */
const centred: fc.Arbitrary<TriMesh> = fc.oneof(
  fc.tuple(size, size, size).map(([x, y, z]) => shifted(box(x, y, z, 2), -x / 2, -y / 2, -z / 2)),
  fc.tuple(size, size).map(([r, h]) => shifted(cylinder(r / 2, h, 14, 2), 0, 0, -h / 2)),
  size.map((r) => sphere(r / 2, 2)),
  fc.tuple(size, size).map(([r, t]) => torus(r / 2 + t / 6, t / 8, 16, 8)),
)

/** A closed body somewhere near the origin. */
export const anyBody: fc.Arbitrary<TriMesh> = fc
  .tuple(centred, anyMove)
  .map(([body, move]) => transformMesh(body, move))

/** The same cases in each run; as many as a quick test may have. */
export const fewRuns = (numRuns: number) => ({
  numRuns: process.env.GLUE_BENCH_LONG === '1' ? 10 * numRuns : numRuns,
  seed: 5,
  includeErrorInReport: true,
})
