/**
 * A simulated range scanner: a head circles a part, measures range images by ray casting, and the images are merged in a truncated
 * signed-distance grid (Curless & Levoy 1996). Where no ray reached, no skin is made, so holes, drop-outs and occlusion are true ones.
 */
import { MeshSearch } from '@/core/mesh/closest'
import { boundsCentre, diagonal, keepTriangles, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { add, cross, dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { random } from '@/core/math/random'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface ScanSettings {
  /** Stations on the circle; the head goes up and down from one to the next. */
  readonly stations: number
  /** Angle between rays, degrees. */
  readonly resolution: number
  /** Standard deviation of the range, mm. */
  readonly noise: number
  /** Beyond this angle between ray and normal nothing comes back, degrees. */
  readonly grazing: number
  /** Stray echoes per station. */
  readonly strays: number
  /** Edge of a grid cell, mm. */
  readonly detail: number
  readonly seed: number
}

interface RangeImage {
  readonly eye: Vec3
  readonly forward: Vec3
  readonly right: Vec3
  readonly up: Vec3
  readonly pitch: number
  readonly width: number
  readonly height: number
  /** Distance along each ray, 0 where nothing came back. */
  readonly range: Float32Array
  /** Cosine of incidence: how far a reading is trusted. */
  readonly trust: Float32Array
}

const elevations = [38, 8, -21, 60]

function station(i: number, count: number, centre: Vec3, away: number): Vec3 {
  const turn = (2 * Math.PI * i) / count
  const lift = (elevations[i % elevations.length] * Math.PI) / 180
  return add(centre, scale([Math.cos(turn) * Math.cos(lift), Math.sin(turn) * Math.cos(lift), Math.sin(lift)], away))
}

function shoot(
  mesh: TriMesh,
  normals: Float32Array,
  search: MeshSearch,
  eye: Vec3,
  centre: Vec3,
  radius: number,
  s: ScanSettings,
  seed: number,
  work: Work,
): RangeImage {
  const rng = random(seed)
  const forward = normalize(sub(centre, eye))
  const right = normalize(cross(forward, Math.abs(forward[2]) > 0.99 ? [0, 1, 0] : [0, 0, 1]))
  const up = cross(right, forward)
  const pitch = Math.tan((s.resolution * Math.PI) / 180)
  // The picture covers the projected box of the part.
  let wide = 0,
    high = 0
  const b = meshBounds(mesh)
  for (let c = 0; c < 8; c++) {
    const d = sub([c & 1 ? b.max[0] : b.min[0], c & 2 ? b.max[1] : b.min[1], c & 4 ? b.max[2] : b.min[2]], eye)
    const z = dot(d, forward)
    wide = Math.max(wide, Math.abs(dot(d, right) / z))
    high = Math.max(high, Math.abs(dot(d, up) / z))
  }
  const width = 2 * Math.ceil(wide / pitch) + 8,
    height = 2 * Math.ceil(high / pitch) + 8
  if (width * height > 4e6)
    throw new StepError('too-fine', `${width} x ${height} rays a station are too many.`, {
      tryThis: 'Choose a coarser angle between rays.',
    })
  const range = new Float32Array(width * height),
    trust = new Float32Array(width * height)
  const limit = Math.cos((s.grazing * Math.PI) / 180)
  for (let y = 0; y < height; y++) {
    if (y % 16 === 0) checkStop(work)
    for (let x = 0; x < width; x++) {
      const d = normalize(
        add(forward, add(scale(right, (x - (width - 1) / 2) * pitch), scale(up, ((height - 1) / 2 - y) * pitch))),
      )
      const hit = search.first(eye, d)
      if (!hit) continue
      const t = hit.triangle
      const facing = -(normals[3 * t] * d[0] + normals[3 * t + 1] * d[1] + normals[3 * t + 2] * d[2])
      const noise = rng.normal()
      // Echoes grow weak towards grazing and are lost at random before they are lost for good.
      if (facing < limit || rng.next() < 0.6 * Math.max(0, 1 - (facing - limit) / 0.12)) continue
      range[y * width + x] = hit.distance + s.noise * noise * (1 + 0.5 / Math.max(facing, 0.2))
      trust[y * width + x] = facing
    }
  }
  for (let k = 0; k < s.strays; k++) {
    const cx = Math.floor(rng.next() * width),
      cy = Math.floor(rng.next() * height)
    const at = dist(eye, centre) + (rng.next() * 1.6 - 1.1) * radius * 0.35
    const size = 1 + Math.floor(rng.next() * 3)
    for (let y = Math.max(0, cy - size); y <= Math.min(height - 1, cy + size); y++)
      for (let x = Math.max(0, cx - size); x <= Math.min(width - 1, cx + size); x++) {
        const seen = range[y * width + x]
        if (seen > 0 && at > seen - 2 * s.detail) continue
        range[y * width + x] = at + s.noise * rng.normal()
        trust[y * width + x] = 0.4
      }
  }
  return { eye, forward, right, up, pitch, width, height, range, trust }
}

const dist = (a: Vec3, b: Vec3) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/** Scans a part. Deterministic by seed. Throws when the grid would be too large. */
export function rangeScan(mesh: TriMesh, s: ScanSettings, work: Work = quiet): TriMesh {
  const bounds = meshBounds(mesh)
  const centre = boundsCentre(bounds)
  const radius = diagonal(bounds) / 2
  const search = new MeshSearch(mesh)
  const normals = triangleNormals(mesh)
  const margin = 6 * s.detail + 0.06 * radius
  const origin = bounds.min.map((v) => v - margin)
  const dims = [0, 1, 2].map((k) => Math.ceil((bounds.max[k] - bounds.min[k] + 2 * margin) / s.detail) + 1)
  const cells = dims[0] * dims[1] * dims[2]
  if (cells > 6e7)
    throw new StepError('too-fine', `A grid of ${dims.join(' x ')} cells is too large.`, {
      tryThis: `Choose a detail of ${(s.detail * Math.cbrt(cells / 5e7)).toFixed(2)} mm or more.`,
    })
  const field = new Float32Array(cells),
    weight = new Float32Array(cells)
  const band = 3 * s.detail
  for (let i = 0; i < s.stations; i++) {
    work.progress((0.85 * i) / s.stations, `station ${i + 1} of ${s.stations}`)
    checkStop(work)
    integrate(
      shoot(
        mesh,
        normals,
        search,
        station(i, s.stations, centre, 3.2 * radius),
        centre,
        radius,
        s,
        s.seed * 1009 + i,
        work,
      ),
      origin,
      dims,
      s.detail,
      band,
      field,
      weight,
    )
  }
  work.progress(0.88, 'meshing')
  return surfaceNet(field, weight, dims, origin, s.detail)
}

/** Adds one range image to the grid: weighted running mean of the distance along the ray, within the band. */
function integrate(
  image: RangeImage,
  origin: readonly number[],
  dims: readonly number[],
  cell: number,
  band: number,
  field: Float32Array,
  weight: Float32Array,
): void {
  const { eye, forward, right, up, pitch, width, height, range, trust } = image
  const [nx, ny, nz] = dims
  for (let k = 0; k < nz; k++)
    for (let j = 0; j < ny; j++) {
      const y0 = origin[1] + j * cell - eye[1],
        z0 = origin[2] + k * cell - eye[2]
      for (let i = 0; i < nx; i++) {
        const x0 = origin[0] + i * cell - eye[0]
        const depth = x0 * forward[0] + y0 * forward[1] + z0 * forward[2]
        const u = (x0 * right[0] + y0 * right[1] + z0 * right[2]) / (depth * pitch) + (width - 1) / 2
        const v = (height - 1) / 2 - (x0 * up[0] + y0 * up[1] + z0 * up[2]) / (depth * pitch)
        const px = Math.floor(u),
          py = Math.floor(v)
        if (px < 0 || py < 0 || px + 1 >= width || py + 1 >= height) continue
        const at = py * width + px
        const a = range[at],
          b = range[at + 1],
          c = range[at + width],
          d = range[at + width + 1]
        const fx = u - px,
          fy = v - py
        let seen: number, w: number
        if (a > 0 && b > 0 && c > 0 && d > 0 && Math.max(a, b, c, d) - Math.min(a, b, c, d) < band) {
          seen = (a * (1 - fx) + b * fx) * (1 - fy) + (c * (1 - fx) + d * fx) * fy
          w = (trust[at] + trust[at + 1] + trust[at + width] + trust[at + width + 1]) / 4
        } else {
          const near = (fy < 0.5 ? 0 : width) + (fx < 0.5 ? 0 : 1)
          seen = range[at + near]
          w = 0.5 * trust[at + near]
          if (!(seen > 0)) continue
        }
        const off = seen - Math.sqrt(x0 * x0 + y0 * y0 + z0 * z0)
        if (off < -band || off > band) continue
        const o = (k * ny + j) * nx + i
        field[o] = (field[o] * weight[o] + off * w) / (weight[o] + w)
        weight[o] += w
      }
    }
}

/** Skin at zero of a partly known grid: one vertex a cell at the mean of its edge crossings (Gibson 1998), only where all eight corners are known. */
export function surfaceNet(
  field: Float32Array,
  weight: Float32Array,
  dims: readonly number[],
  origin: readonly number[],
  cell: number,
): TriMesh {
  const [nx, ny, nz] = dims
  const vertexOf = new Int32Array(field.length).fill(-1)
  const positions: number[] = []
  const step = [1, nx, nx * ny]
  const edges: [number, number][] = []
  for (let c = 0; c < 8; c++) for (let a = 0; a < 3; a++) if (!(c & (1 << a))) edges.push([c, c | (1 << a)])
  const offset = (c: number) => (c & 1) + (c & 2 ? nx : 0) + (c & 4 ? nx * ny : 0)
  const corner = Array.from({ length: 8 }, (_, c) => offset(c))
  for (let k = 0; k + 1 < nz; k++)
    for (let j = 0; j + 1 < ny; j++)
      for (let i = 0; i + 1 < nx; i++) {
        const o = (k * ny + j) * nx + i
        if (weight[o] === 0) continue
        let inside = 0,
          known = true
        for (let c = 0; c < 8; c++) {
          if (weight[o + corner[c]] === 0) {
            known = false
            break
          }
          if (field[o + corner[c]] < 0) inside++
        }
        if (!known || inside === 0 || inside === 8) continue
        let x = 0,
          y = 0,
          z = 0,
          n = 0
        for (const [p, q] of edges) {
          const f = field[o + corner[p]],
            g = field[o + corner[q]]
          if (f < 0 === g < 0) continue
          const t = f / (f - g)
          x += (p & 1) + t * ((q & 1) - (p & 1))
          y += ((p >> 1) & 1) + t * (((q >> 1) & 1) - ((p >> 1) & 1))
          z += ((p >> 2) & 1) + t * (((q >> 2) & 1) - ((p >> 2) & 1))
          n++
        }
        vertexOf[o] = positions.length / 3
        positions.push(origin[0] + (i + x / n) * cell, origin[1] + (j + y / n) * cell, origin[2] + (k + z / n) * cell)
      }
  const triangles: number[] = []
  for (let k = 1; k + 1 < nz; k++)
    for (let j = 1; j + 1 < ny; j++)
      for (let i = 1; i + 1 < nx; i++) {
        const o = (k * ny + j) * nx + i
        if (weight[o] === 0) continue
        for (let a = 0; a < 3; a++) {
          const q = o + step[a]
          if (weight[q] === 0 || field[o] < 0 === field[q] < 0) continue
          const s1 = step[(a + 1) % 3],
            s2 = step[(a + 2) % 3]
          const v = [vertexOf[o - s1 - s2], vertexOf[o - s2], vertexOf[o], vertexOf[o - s1]]
          if (v.includes(-1)) continue
          if (field[o] < 0) triangles.push(v[0], v[1], v[2], v[0], v[2], v[3])
          else triangles.push(v[0], v[2], v[1], v[0], v[3], v[2])
        }
      }
  const mesh = { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
  return keepTriangles(mesh, new Uint8Array(triangles.length / 3).fill(1)).mesh
}
