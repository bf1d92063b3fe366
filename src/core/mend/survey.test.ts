/** What a mesh is seen to be, and what follows from it: borders, bases, plates, doubled skins. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { terrain, town } from '@/testing/hard'
import { box, cylinder, inward, sheet, shifted, sphere, without } from '@/testing/shapes'
import { closeBorders } from './close-borders'
import { dropDoubled } from './doubled-skin'
import { joinPlateSides } from './plate-sides'
import { plinth } from './plinth'
import { clearSpecks } from './specks'
import { survey } from './survey'

/** A tube without ends. */
const tube = (r: number, l: number) => without(cylinder(r, l, 48, 8), (_x, _y, z) => z < 1e-6 || z > l - 1e-6)
const kinds = (m: TriMesh) => survey(m).kinds
const borders = (m: TriMesh) => survey(m).border.reduce((s, b) => s + b, 0)

describe('a survey', () => {
  it.each([
    ['ball', sphere(10, 3), 'closed', 0],
    ['ball with a hole', without(sphere(10, 4), (_x, _y, z) => z > 8), 'holed', 0],
    // A disc that closes it has half its area.
    ['half a ball', without(sphere(10, 4), (_x, _y, z) => z < 0), 'sheet', 1],
    // A lid of pi r^2 on walls of 2 pi r l: a long tube has two holes, a ring two borders.
    ['long tube', tube(5, 40), 'holed', 0],
    ['ring', tube(20, 5), 'sheet', 2],
    ['ground', terrain(20), 'sheet', 1],
    ['town', town(50), 'sheet', 1],
    ['cup', without(cylinder(5, 20, 48, 8), (_x, _y, z) => z > 20 - 1e-6), 'holed', 0],
  ] as [string, TriMesh, string, number][])('%s', (_name, mesh, kind, n) => {
    expect([kinds(mesh), borders(mesh)]).toEqual([[kind], n])
  })
  it('a hole in ground is one, its outline is not; an island in a lake shows that it is one', () => {
    const lake = without(terrain(40), (x, y) => Math.hypot(x - 50, y - 50) < 9)
    expect(borders(lake)).toBe(1)
    const wide = without(sheet(20, 20), (x, y) => Math.hypot(x - 10, y - 10) < 8)
    expect(borders(wide)).toBe(2)
    const island = concatMeshes([wide, shifted(sheet(4, 4), 8, 8, 0)])
    expect([kinds(island), borders(island)]).toEqual([['sheet', 'scrap'], 1])
  })
})

describe('closing borders', () => {
  it('half a ball gets a lid, straight across', () => {
    const half = without(sphere(10, 4), (_x, _y, z) => z < 0)
    const m = closeBorders(half, 'flat', quiet)
    expect(faultCount(checkUp(m).facts)).toBe(0)
    expect(meshVolume(m) / ((2 / 3) * Math.PI * 1000)).toBeCloseTo(1, 1)
    expect(meshBounds(m).min[2]).toBeCloseTo(0, 3)
  })
  it('ground gets walls and a level base below its lowest point', () => {
    const ground = terrain(30)
    const m = closeBorders(ground, 'flat', quiet)
    const { facts } = checkUp(m)
    expect(faultCount(facts)).toBe(0)
    const low = meshBounds(ground).min[2]
    expect(meshBounds(m).min[2]).toBeLessThan(low)
    // A prism over the square, less or more what the ground differs from its middle height: at least up to its lowest point.
    expect(meshVolume(m)).toBeGreaterThan(100 * 100 * (low - meshBounds(m).min[2]))
    expect([...m.positions.subarray(0, ground.positions.length)]).toEqual([...ground.positions])
  })
  it('a border that crosses itself seen from above stays open', () => {
    const eight = sheet(20, 20)
    const twisted = { ...eight, positions: eight.positions.slice() }
    for (let v = 0; v < twisted.positions.length; v += 3)
      if (twisted.positions[v] > 14) twisted.positions[v + 1] = 20 - twisted.positions[v + 1]
    const s = survey(twisted)
    expect(plinth(twisted, s.rims[s.border.indexOf(1)], () => true)).toBeNull()
  })
})

describe('plates and doubled skins', () => {
  const side = (z: number, up: boolean) => {
    const s = sheet(30, 15, (x, y) => z + Math.sin(x / 6) + Math.cos(y / 7))
    return up ? s : inward(s)
  }
  it('two sides back to back are joined, and only those', () => {
    const plate = concatMeshes([side(1, true), side(0, false)])
    const { mesh, joined } = joinPlateSides(survey(plate))
    expect(joined).toBe(1)
    expect(faultCount(checkUp(mesh).facts)).toBe(0)
    expect(meshVolume(mesh)).toBeCloseTo(900, 0)
    // Facing the same way, far apart, or of another size they are no plate.
    for (const other of [side(0, true), shifted(side(0, false), 0, 0, -20), inward(sheet(12, 6))])
      expect(joinPlateSides(survey(concatMeshes([side(1, true), other]))).joined).toBe(0)
  })
  it('a patch that lies on a skin and faces as it does goes; one that stands off or faces back stays', () => {
    const ground = terrain(40)
    const patch = (lift: number) => ({
      positions: without(ground, (x, y) => Math.hypot(x - 50, y - 50) > 20).positions.map((v, i) =>
        i % 3 === 2 ? v + lift : v,
      ),
      triangles: without(ground, (x, y) => Math.hypot(x - 50, y - 50) > 20).triangles,
    })
    const on = dropDoubled(survey(concatMeshes([ground, patch(0.02)])))
    expect([on.dropped, triangleCount(on.mesh)]).toEqual([1, triangleCount(ground)])
    expect(dropDoubled(survey(concatMeshes([ground, patch(2)]))).dropped).toBe(0)
    expect(dropDoubled(survey(concatMeshes([ground, inward(patch(0.02))]))).dropped).toBe(0)
    expect(dropDoubled(survey(ground)).dropped).toBe(0)
  })
  it('of two equal sheets one stays', () => {
    const m = dropDoubled(survey(concatMeshes([terrain(12), terrain(12)])))
    expect([m.dropped, meshArea(m.mesh)]).toEqual([1, meshArea(terrain(12))])
  })
})

describe('specks', () => {
  it('closed pieces have a share of their own, and what went is told by area', () => {
    const m = concatMeshes([box(20, 20, 20, 2), shifted(box(2, 2, 2), 30, 0, 0), shifted(sheet(2, 1), 40, 0, 0)])
    expect(clearSpecks(m, { share: 0.05 })).toMatchObject({ removed: 2, area: 28 })
    expect(clearSpecks(m, { share: 0.05, closedShare: 0.001 })).toMatchObject({ removed: 1, area: 4 })
  })
})
