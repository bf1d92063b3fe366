import { describe, expect, it } from '@jest/globals'
import { box, sphere } from '@/testing/shapes'
import { PolygonEdit } from './polygon-edit'
import { buildTopology, triangleOf } from './topology'

/** A cube of six quads: each face two triangles of the box made one. */
function quadCube(): PolygonEdit {
  const p = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1]
  const m = new PolygonEdit(p, [])
  for (const q of [
    [0, 3, 2, 1],
    [4, 5, 6, 7],
    [0, 1, 5, 4],
    [2, 3, 7, 6],
    [1, 2, 6, 5],
    [3, 0, 4, 7],
  ])
    m.addFace(q)
  return m
}

describe('half-edges of polygons', () => {
  it('run round their face, and twins are each other', () => {
    const m = quadCube()
    expect(m.faceCount).toBe(6)
    let halves = 0
    for (let f = 0; f < m.faceCount; f++) {
      const s = m.startOf(f)
      expect(m.sizeOf(f)).toBe(4)
      let h = s
      for (let c = 0; c < 4; c++) {
        expect(m.faceAt(h)).toBe(f)
        expect(m.prev(m.next(h))).toBe(h)
        const w = m.twin(h)
        expect(m.twin(w)).toBe(h)
        expect(m.origin(w)).toBe(m.origin(m.next(h)))
        halves++
        h = m.next(h)
      }
      expect(h).toBe(s)
    }
    // Euler: 8 vertices, 12 edges, 6 faces.
    expect(8 - halves / 2 + m.faceCount).toBe(2)
    expect([...m.neighbours(0)].length).toBe(6) // three along edges, three across faces
  })
  it('agree with the topology of a mesh of triangles', () => {
    const mesh = sphere(5, 2)
    const m = new PolygonEdit(mesh.positions, mesh.triangles)
    const { twin } = buildTopology(mesh)
    for (let h = 0; h < twin.length; h++) {
      expect(m.twin(h)).toBe(twin[h])
      expect(m.faceAt(h)).toBe(triangleOf(h))
    }
  })
  it('an edge with three faces has no twin, a rim neither', () => {
    const m = new PolygonEdit([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1], [0, 1, 2, 1, 0, 3, 0, 1, 4])
    expect(m.twin(0)).toBe(-2)
    expect(m.twin(1)).toBe(-1)
    expect(m.shared(0, 1)).toEqual([0, 1, 2])
  })
  it('faces of any size come and go, and others keep their numbers', () => {
    const b = box(1, 1, 1)
    const m = new PolygonEdit(b.positions, b.triangles)
    const first = m.loop(0)
    const v = m.addPoint(0.5, 0.5, 2)
    m.kill(2)
    const five = m.addFace([first[0], first[1], first[2], v, 7])
    expect(m.loop(five)).toHaveLength(5)
    expect([m.loop(0), m.alive(2), m.alive(five)]).toEqual([first, false, true])
    expect(m.around[v]).toEqual([five])
    m.kill(five)
    expect(m.around[v]).toEqual([])
    m.put(five, [first[0], first[1], first[2], v, 6])
    expect(m.halfOf(five, v, 6)).toBe(m.startOf(five) + 3)
  })
  it('splitting an edge gives each of its triangles a new one', () => {
    const mesh = sphere(5, 1)
    const m = new PolygonEdit(mesh.positions, mesh.triangles)
    const [a, b] = m.loop(0)
    const mid = m.addPoint(0, 0, 0)
    m.splitAt(a, b, mid)
    expect(m.faceCount).toBe(mesh.triangles.length / 3 + 2)
    expect(m.around[mid]).toHaveLength(4)
    for (const f of m.around[mid])
      for (let c = 0; c < 3; c++) expect(m.twin(m.startOf(f) + c)).toBeGreaterThanOrEqual(0)
  })
})
