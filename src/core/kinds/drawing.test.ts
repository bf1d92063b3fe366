/** What is drawn of bodies and what a ray points at, as the browser's workers ask for it. */
import { describe, expect, it } from '@jest/globals'
import { meshBody } from '@/core/bodies/body'
import { makeBlock } from '@/core/kernels/exact/primitives'
import type { Vec3 } from '@/core/math/vec'
import { creased } from '@/core/mesh/crease'
import { MeshSearch } from '@/core/mesh/closest'
import { sectionLines } from '@/core/section/section-lines'
import { Slicer } from '@/core/section/slice'
import { box, sphere, without } from '@/testing/shapes'
import { currentFacts } from './kept-facts'
import { drawPart, partWords, pointedPart } from './pointed-part'
import { factsOf, shownSkin } from './registry'
import { buffersOf, shadeBody } from './shade'

const unit = (n: Float32Array, i: number) => {
  const v = [n[3 * i], n[3 * i + 1], n[3 * i + 2]]
  return v.map((x) => x / Math.hypot(...v))
}

describe('normals for drawing', () => {
  it('break at the edges of a box: three corners for each of its own', () => {
    const c = creased(box(2, 2, 2))
    expect(c.positions.length / 3).toBe(24)
    for (let i = 0; i < 24; i++) expect(Math.max(...unit(c.normals, i).map(Math.abs))).toBeCloseTo(1, 6)
  })
  it('run on over a sphere: one corner each, pointing outward', () => {
    const s = sphere(5, 3)
    const c = creased(s)
    expect(c.positions.length).toBe(s.positions.length)
    for (let i = 0; i < c.positions.length / 3; i++) {
      const n = unit(c.normals, i)
      const out = [0, 1, 2].reduce((d, k) => d + (n[k] * c.positions[3 * i + k]) / 5, 0)
      expect(out).toBeGreaterThan(0.99)
    }
    expect(c.index.length).toBe(s.triangles.length)
  })
  it('a body made ready to draw has arrays of its own, lines where its kind has them', async () => {
    const b = await makeBlock([2, 3, 4], [0, 0, 0], [0, 0, 1], [1, 0, 0])
    const s = shadeBody(b)
    expect(s.lines.length).toBe(12 * 6)
    expect(s.positions.buffer).not.toBe(b.display.positions.buffer)
    expect(new Set(buffersOf(s)).size).toBe(5)
    expect(shadeBody(meshBody(box(1, 1, 1))).lines).toHaveLength(0)
  })
})

describe('faces and edges under a ray', () => {
  const look = async (x: number, y: number, want: 'face' | 'edge' | 'any' = 'any', reach = 0.3) => {
    const body = await makeBlock([10, 10, 4], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'b')
    const ray = { origin: [x, y, 50] as Vec3, direction: [0, 0, -1] as Vec3 }
    return pointedPart(body, ray, new MeshSearch(shownSkin(body)).first(ray.origin, ray.direction), reach, want)
  }
  it('a face inside, an edge near it, just outside too, and nothing beyond the reach', async () => {
    expect((await look(5, 5))!.part.name).toBe('b/top')
    expect((await look(9.8, 5))!).toMatchObject({ sort: 'edge', part: { name: 'b/right | b/top', length: 10 } })
    expect((await look(10.2, 5))!.sort).toBe('edge')
    expect(await look(10.5, 5)).toBeNull()
    expect((await look(9.8, 5, 'face'))!.part.name).toBe('b/top')
    expect(await look(5, 5, 'edge')).toBeNull()
  })
  it('an edge behind the body is not meant', async () => {
    // The lower right edge lies right under the upper one; straight over the middle nothing shows through.
    expect(await look(5, 0.0001, 'edge')).toMatchObject({ part: { name: 'b/front | b/top' } })
  })
  it('what is drawn of a part has its area or length, and lies at its place', async () => {
    const body = await makeBlock([10, 8, 4], [1, 2, 3], [0, 0, 1], [1, 0, 0], 'b')
    body.parts.faces.forEach((face, i) => {
      const { triangles: p } = drawPart(body, 'face', i)
      let area = 0
      const middle = [0, 0, 0]
      for (let o = 0; o < p.length; o += 9) {
        const [a, b, c] = [0, 3, 6].map((k) => [p[o + k], p[o + k + 1], p[o + k + 2]])
        const [u, v] = [b, c].map((q) => q.map((x, k) => x - a[k]))
        const own = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
        area += own
        for (const k of [0, 1, 2]) middle[k] += (own * (a[k] + b[k] + c[k])) / 3
      }
      expect(area).toBeCloseTo(face.area, 4)
      face.at.forEach((x, k) => expect(middle[k] / area).toBeCloseTo(x, 4))
    })
    body.parts.edges.forEach((edge, i) => {
      const { lines: p } = drawPart(body, 'edge', i)
      let length = 0
      for (let o = 0; o < p.length; o += 6)
        length += Math.hypot(p[o + 3] - p[o], p[o + 4] - p[o + 1], p[o + 5] - p[o + 2])
      expect(length).toBeCloseTo(edge.length, 4)
    })
  })
  it('what is drawn of a part is that part alone', async () => {
    const body = await makeBlock([10, 10, 4], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'b')
    const top = body.parts.faces.findIndex((f) => f.name === 'b/top')
    const { triangles } = drawPart(body, 'face', top)
    expect(triangles.length).toBeGreaterThan(0)
    for (let i = 2; i < triangles.length; i += 3) expect(triangles[i]).toBe(4)
    expect(drawPart(body, 'edge', 0).lines).toHaveLength(6)
    expect(pointedPart(meshBody(box(1, 1, 1)), { origin: [0, 0, 9], direction: [0, 0, -1] }, null, 1)).toBeNull()
    expect(partWords('edge', { shape: 'circle', radius: 4 }, String)).toBe('edge, circle Ø 8')
    expect(partWords('face', { shape: 'bspline' }, String)).toBe('free form')
  })
})

describe('sections', () => {
  it('lines run round closed loops and stop at the ends of open ones', () => {
    const whole = sectionLines(new Slicer(box(4, 4, 4)).slice([0, 0, 1], 2).loops)
    let length = 0
    for (let i = 0; i < whole.length; i += 6) length += Math.hypot(whole[i + 3] - whole[i], whole[i + 4] - whole[i + 1])
    expect(length).toBeCloseTo(16)
    const open = without(box(4, 4, 4), (x) => x > 3.99)
    const lines = sectionLines(new Slicer(open).slice([0, 0, 1], 2).loops)
    let shorter = 0
    for (let i = 0; i < lines.length; i += 6)
      shorter += Math.hypot(lines[i + 3] - lines[i], lines[i + 4] - lines[i + 1])
    expect(shorter).toBeCloseTo(12)
  })
})

describe('facts', () => {
  it('kept by an older database read as those of today', () => {
    const now = factsOf(meshBody(box(2, 3, 4)))
    expect(currentFacts(now)).toBe(now)
    const old = currentFacts({
      kind: 'mesh',
      size: [2, 3, 4],
      min: [0, 0, 0],
      closed: false,
      volume: 0,
      area: 10,
      triangles: 12,
      pieces: 1,
      holes: 2,
      openEdges: 8,
      nonManifoldEdges: 0,
    })
    expect(old).toMatchObject({
      sound: false,
      badge: '2 holes',
      figures: { triangles: 12, holes: 2 },
      can: ['surface', 'check'],
    })
  })
})
