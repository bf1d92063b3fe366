/** Whether a clean solid is the mesh it was made of: looked at once more, both ways, at more than the corners that its faces were fitted to. */
import { mm, num, plural } from '@/core/base/say'
import { span, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { bulgeOf } from '@/core/gauge/bulge'
import { figuresOf, plainReferenceOf, sampleDeviation, signedDistance } from '@/core/gauge/deviation'
import type { Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { Cleaned } from './clean-solid'

/** Distances of a solid's own surface from the mesh it is of, mm. */
interface Back {
  readonly max: number
  readonly p95: number
  /** The furthest place of it. */
  readonly at: Vec3
}

/** Places of each solid that are measured back. */
const backSamples = 30_000

/** How far a solid lies off its mesh: a face that was made up lies near no triangle, though every corner of the mesh lies near some face. */
function backOf(mesh: TriMesh, body: ExactBody, work: Work): Back {
  const { positions, triangles } = body.display
  const to = plainReferenceOf(mesh)
  const { max, p95 } = figuresOf(sampleDeviation({ positions, triangles }, to, backSamples, work))
  let [far, at]: [number, Vec3] = [-1, [0, 0, 0]]
  for (let v = 0; v < positions.length; v += 3) {
    const [x, y, z] = [positions[v], positions[v + 1], positions[v + 2]]
    const d = Math.abs(signedDistance(to, x, y, z))
    if (d > far) [far, at] = [d, [x, y, z]]
  }
  return { max, p95, at }
}

/** How far the middles of a mesh's triangles lie off the solid, mm. */
function middlesOff(mesh: TriMesh, body: ExactBody, work: Work): number {
  const { positions, triangles } = body.display
  return figuresOf(sampleDeviation(mesh, plainReferenceOf({ positions, triangles }), backSamples, work)).max
}

/** Distances beyond so many times what corners and facets account for are no facets' doing. */
const madeUp = 2.5

/** More faces than so many times the regions that were recognised, and some, are noise taken for shape. */
const tooManyFaces = 3

/** Distances between a solid and its mesh, both ways, and whether corners and facets account for them. */
export interface SecondLook {
  readonly back: Back
  /** The furthest of either way beyond what its corners tell, mm; null where they tell all. */
  readonly beyond: number | null
}

/** A second look at what was made, at more than the corners of the mesh, which always lie near some face. */
export function secondLook(mesh: TriMesh, c: Cleaned, work: Work): SecondLook | null {
  // What was left out or brought down on purpose lies off.
  if (c.leftOut || c.broughtTo !== undefined) return null
  const back = backOf(mesh, c.body, span(work, 0, 0.5))
  const most = c.offs.reduce((m, v) => Math.max(m, Math.abs(v)), 2 * c.body.tolerance)
  const furthest = Math.max(back.max, middlesOff(mesh, c.body, span(work, 0.5, 1)))
  const accounted = madeUp * Math.max(most, bulgeOf(mesh))
  return { back, beyond: furthest <= accounted ? null : furthest }
}

/** What a second look, both ways, and a count tell. */
export function doubts(made: readonly Cleaned[], looks: readonly (SecondLook | null)[], facets: boolean): string[] {
  return made.flatMap((c, i) => {
    const name = made.length === 1 ? 'The solid' : `Solid ${i + 1}`
    const { faces } = c.body.facts
    const look = looks[i]
    return [
      ...(look && look.beyond !== null
        ? [
            `${name} and the mesh lie up to ${mm(look.beyond, 3)} apart, though the mesh’s corners lie near its faces; the solid is off by most near ${look.back.at.map((v) => num(v, 1)).join(', ')}: faces there are made up.`,
          ]
        : []),
      ...(!facets && c.recognised !== undefined && faces > tooManyFaces * c.recognised + 10
        ? [
            `${name} has ${plural(faces, 'face')} where ${plural(c.recognised, 'region')} of the mesh lie on a shape: what lies on none, or noise, fell into many. Set Within to about the noise of the mesh.`,
          ]
        : []),
    ]
  })
}
