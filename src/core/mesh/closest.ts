/** Rays and nearest points on a mesh, by the three-mesh-bvh library. */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import type { Vec3 } from '@/core/math/vec'
import type { TriMesh } from './tri-mesh'

export interface RayHit {
  readonly distance: number
  readonly triangle: number
  readonly point: Vec3
}
export interface Nearest {
  readonly distance: number
  readonly triangle: number
  readonly point: Vec3
}

export class MeshSearch {
  readonly bvh: MeshBVH
  private readonly ray = new Ray()
  private readonly at = new Vector3()

  /** Builds the hierarchy; about 1.4 s for a million triangles. */
  constructor(readonly mesh: TriMesh) {
    const geometry = new BufferGeometry()
    geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3))
    geometry.setIndex(new BufferAttribute(mesh.triangles, 1))
    // Indirect: the triangles keep their order, so numbers mean the same to every caller.
    this.bvh = new MeshBVH(geometry, { indirect: true })
  }

  /** First hit of a ray, or null. `direction` is a unit vector. */
  first(origin: Vec3, direction: Vec3): RayHit | null {
    this.ray.origin.set(...origin)
    this.ray.direction.set(...direction)
    const hit = this.bvh.raycastFirst(this.ray, DoubleSide)
    return hit
      ? { distance: hit.distance, triangle: hit.faceIndex!, point: [hit.point.x, hit.point.y, hit.point.z] }
      : null
  }

  /** All hits of a ray, near to far. */
  all(origin: Vec3, direction: Vec3): RayHit[] {
    this.ray.origin.set(...origin)
    this.ray.direction.set(...direction)
    return this.bvh
      .raycast(this.ray, DoubleSide)
      .map((h): RayHit => ({ distance: h.distance, triangle: h.faceIndex!, point: [h.point.x, h.point.y, h.point.z] }))
      .sort((a, b) => a.distance - b.distance)
  }

  /** Nearest point of the mesh within `within` mm, or null. */
  nearest(p: Vec3, within = Infinity): Nearest | null {
    const found = this.bvh.closestPointToPoint(this.at.set(...p), undefined, 0, within)
    return found
      ? { distance: found.distance, triangle: found.faceIndex, point: [found.point.x, found.point.y, found.point.z] }
      : null
  }
}
