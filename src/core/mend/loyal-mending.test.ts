/** Mend all on what scanners, modellers and broken exports leave: nothing sound may be lost, whatever the mesh is. */
import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { weldMesh } from '@/core/mesh/weld'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { mostLost } from '@/core/gauge/loyalty'
import { hard, terrain, type Hard } from '@/testing/hard'
import { awkward, box, shifted, sphere } from '@/testing/shapes'
import { mendAll, type Mended } from './mend-all'
import { survey, surveyWords } from './survey'
import { mostly } from '@/testing/long'

const choice = { speckShare: 0.01, fill: 'smooth' as const }
const inputs = hard()
const done = new Map<string, Mended>()
const mended = (name: string): Mended => {
  let m = done.get(name)
  if (!m) done.set(name, (m = mendAll(inputs[name].mesh, choice)))
  return m
}

describe('Mend all on hard inputs', () => {
  it.each(mostly(Object.entries(inputs), ([name]) => !name.includes('assembly')))(
    '%s: over 99.5 %% of the sound skin is kept, nothing worse comes of it',
    (name, h: Hard) => {
      const m = mended(name)
      expect(m.loyalty.lost).toBeLessThan(mostLost)
      if (h.clean) expect(m.mesh).toBe(h.mesh)
      expect(faultCount(m.after)).toBeLessThanOrEqual(faultCount(m.before) + m.borderEdges)
      if (h.open) {
        expect(m.borderEdges).toBeGreaterThan(0)
        expect(m.after.closed).toBe(false)
      } else expect([name, faultCount(m.after)]).toEqual([name, 0])
      // What was not cut or united has not moved by a bit.
      if (!h.crosses) expect(m.loyalty.equal).toBeGreaterThan(name === 'patch on a ball' ? 0.7 : 0.98)
    },
  )
  it('an open sheet keeps its border, and has it closed when that is asked for', () => {
    expect(mended('six sheets')).toMatchObject({ seen: '6 open sheets', borderEdges: 288 })
    const ground = terrain(20)
    expect(mendAll(ground, choice).mesh.triangles).toHaveLength(ground.triangles.length)
    const closed = mendAll(ground, { ...choice, closeBorder: true })
    expect(closed.after.closed).toBe(true)
    expect(closed.loyalty.lost).toBe(0)
  })
  it('borders are closed one by one where that is asked for; the others stay as they were', () => {
    const open = mended('six sheets')
    expect(open.left).toHaveLength(6)
    expect(open.left.reduce((n, b) => n + b.edges, 0)).toBe(open.borderEdges)
    const lengths = open.left.map((b) => b.lengthMm)
    expect([...lengths].sort((a, b) => b - a)).toEqual(lengths)
    const [one, two] = open.left
    const m = mendAll(inputs['six sheets'].mesh, { ...choice, closeAt: [one.at, two.at] })
    const places = (left: typeof m.left) => left.map((b) => b.at.join()).sort()
    expect(places(m.left)).toEqual(places(open.left.slice(2)))
    expect([m.refused, m.after.folded, m.after.selfCrossings]).toEqual([0, 0, 0])
    // A place that means none changes nothing.
    const off = mendAll(inputs['six sheets'].mesh, { ...choice, closeAt: [[1e4, 0, 0]] })
    expect(off.mesh.triangles).toEqual(open.mesh.triangles)
    const ground = terrain(20)
    const [rim] = mendAll(ground, choice).left
    expect(mendAll(ground, { ...choice, closeAt: [rim.at] }).after.closed).toBe(true)
  })
  it('lakes in a terrain are closed, its border is not', () => {
    expect(mended('terrain with lakes')).toMatchObject({ seen: 'an open sheet', holesClosed: 2, borderEdges: 240 })
  })
  it('balls that overlap become one body with the volume of both less their lens', () => {
    const m = mended('two balls')
    const r = 20,
      h = r - Math.hypot(19, 3, 2) / 2
    const volume = (8 / 3) * Math.PI * r ** 3 - (2 * Math.PI * h * h * (3 * r - h)) / 3
    expect(m.after.pieces).toBe(1)
    expect(meshVolume(m.mesh) / volume).toBeGreaterThan(0.995)
    expect(meshVolume(m.mesh) / volume).toBeLessThan(1)
    expect(m.loyalty.inside).toBeGreaterThan(0.2)
  })
  it('pieces that are to stay apart cross still, and that is told, not mended away', () => {
    const two = concatMeshes([sphere(10, 3), shifted(sphere(10, 3), 9, 3, 2)])
    const m = mendAll(two, { ...choice, keepApart: true })
    expect(m.after.pieces).toBe(2)
    expect(m.between).toBe(m.before.selfCrossings)
    expect(m.loyalty.equal).toBe(1)
  })
  it('a plate of two sides gets its rim', () => {
    const m = mended('plate of two sides')
    expect(m).toMatchObject({ seen: '2 open sheets', plates: 1 })
    // 60 by 60, 1.5 thick.
    expect(meshVolume(m.mesh)).toBeCloseTo(60 * 60 * 1.5, 0)
    expect(m.loyalty.equal).toBe(1)
  })
  it('a patch that lies on a ball goes, the ball stays', () => {
    const m = mended('patch on a ball')
    expect(m.doubled).toBe(1)
    expect(m.after.pieces).toBe(1)
  })
  it('shells one in another: the hollow stays one, a body in it too', () => {
    const m = mended('shells one in another')
    expect(m.after.pieces).toBe(3)
    const v = (r: number, n: number) => meshVolume(sphere(r, n))
    expect(meshVolume(m.mesh)).toBeCloseTo(v(10, 4) - v(6, 3) + v(3, 2), 2)
  })
  it('cubes that share an edge or a corner come apart', () => {
    for (const [x, y, z] of [
      [10, 10, 0],
      [10, 10, 10],
    ]) {
      const { mesh } = weldMesh(concatMeshes([box(10, 10, 10, 2), shifted(box(10, 10, 10, 2), x, y, z)]))
      const { facts } = checkUp(mesh)
      expect(facts.nonManifoldEdges + facts.nonManifoldVertices).toBeGreaterThan(0)
      const m = mendAll(mesh, choice)
      expect(faultCount(m.after)).toBe(0)
      expect(m.loyalty.equal).toBe(1)
      expect(meshVolume(m.mesh)).toBeCloseTo(2000, 3)
    }
  })
  it('small closed parts of an assembly are no specks, open crumbs are', () => {
    const screw = shifted(sphere(1, 2), 30, 0, 0),
      crumb: TriMesh = {
        positions: Float32Array.from([40, 0, 0, 41, 0, 0, 40, 1, 0]),
        triangles: Uint32Array.from([0, 1, 2]),
      }
    const m = mendAll(concatMeshes([sphere(12, 4), screw, crumb]), choice)
    expect(m).toMatchObject({ specks: 1, after: { pieces: 2 } })
  })
})

describe('Mend all on awkward inputs', () => {
  it.each(
    mostly(
      Object.entries(awkward()).filter(([, m]) => triangleCount(m)),
      ([, m]) => triangleCount(m) < 5000,
    ),
  )('%s: loyal, and never worse than before', (_, mesh) => {
    const m = mendAll(mesh, choice)
    expect(m.loyalty.lost).toBeLessThan(mostLost)
    expect(faultCount(m.after)).toBeLessThanOrEqual(faultCount(m.before) + m.borderEdges)
  })
})

describe('the survey', () => {
  it('tells closed pieces, pieces with holes and sheets', () => {
    expect(surveyWords(survey(sphere(5, 2)))).toBe('a closed piece')
    expect(surveyWords(survey(inputs.casting.mesh))).toBe('2 pieces with holes')
    expect(surveyWords(survey(inputs['patch on a ball'].mesh))).toBe('a piece with holes and an open sheet')
    expect(surveyWords(survey(concatMeshes([sphere(5, 2), shifted(terrain(4), 20, 0, 0)])))).toBe(
      'a closed piece and an open sheet',
    )
  })
})
