/** The freeform way through its steps: nets in and out of files, symmetry, what is said and what is refused. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { upgradeStep } from '@/core/recipe/recipe'
import { isCage, isNet, meshBody, netBody, type Body } from '@/core/bodies/body'
import { decodeBody, encodeBody } from '@/core/kinds/registry'
import { quadFigures, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { meshVolume } from '@/core/mesh/measures'
import { runOn } from '@/core/step/step'
import { fixtures } from '@/testing/plausible'
import { quadBlock } from '@/testing/quad-shapes'
import { runStep } from '@/testing/run-step'
import { stepOf } from './registry'
import { box, shifted, sphere, without } from '@/testing/shapes'
import { itLong } from '@/testing/long'

const cube = async () => (await fixtures.net()).one
const netIn = (b: Body | null | undefined): QuadMesh => {
  if (!b || !isNet(b)) throw new Error('no net')
  return b.net
}
const obj = async (body: Body) => {
  const { files } = await runStep('send-out/file', { bodies: ['n'], file: 'n.obj' }, { n: body })
  return files![0].bytes
}

describe('OBJ of nets', () => {
  it('keeps quads out and in', async () => {
    const net = await cube()
    const bytes = await obj(net)
    const faces = new TextDecoder().decode(bytes).match(/^f .*$/gm)!
    expect(faces).toHaveLength(96)
    expect(faces.every((f) => f.split(' ').length === 5)).toBe(true)
    const r = await runStep('bring-in/file', { file: 'n.obj', name: 'n', as: 'net' }, {}, quiet, { 'n.obj': bytes })
    expect(netIn(r.bodies.n).quads).toEqual(netIn(net).quads)
    expect(r.facts).toMatchObject({ quads: 96, closed: true, divided: false })
  })
  it('of other faces is divided once, and says so; other formats have no quads', async () => {
    const text = 'v 0 0 0\nv 10 0 0\nv 0 10 0\nv 0 0 10\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 3 1 4\n'
    const files = { 't.obj': new TextEncoder().encode(text) }
    const r = await runStep('bring-in/file', { file: 't.obj', name: 't', as: 'net' }, {}, quiet, files)
    expect(netIn(r.bodies.t).quads.length / 4).toBe(12)
    expect(r.warnings!.join()).toContain('4 faces had not four corners')
    const stl = (await runStep('send-out/file', { bodies: ['m'], file: 'm.stl' }, { m: meshBody(box(5, 5, 5)) })).files!
    await expect(
      runStep('bring-in/file', { file: 'm.stl', name: 'm', as: 'net' }, {}, quiet, { 'm.stl': stl[0].bytes }),
    ).rejects.toThrow('no OBJ file')
  })
})

describe('Quad net', () => {
  it('gives a rough look at once: fewer quads over a coarse working mesh, told as such', async () => {
    const b = meshBody(sphere(10, 5))
    const definition = stepOf('convert/quad-net')!
    const set = definition.settings.strict().parse({ body: 'b', name: 'n', count: 3000, symmetry: ['x'] })
    const rest = { names: new Set(['b']), work: quiet, file: () => Promise.reject(new Error('no file')) }
    const r = await runOn(definition, set, () => b, { ...rest, coarse: true })
    const quads = Number(r.facts.quads)
    expect(quads).toBeGreaterThan(700)
    expect(quads).toBeLessThan(1300)
    expect(r.facts.coarse).toBe(true)
    expect(r.facts.deviation).toBeUndefined()
    expect(r.said).toMatch(/^a rough look with .* of 3.000 quads$/)
    expect(quadFigures(netIn(r.bodies.n)).closed).toBe(true)
  })
  itLong(
    'is guided by a section line of the body, mirrored at a datum plane; what lies elsewhere guides nothing',
    async () => {
      const bodies: Record<string, Body> = { b: meshBody(shifted(sphere(10, 3), 20, 0, 0)) }
      const add = async (kind: string, set: Record<string, unknown>) => {
        const r = await runStep(kind, set, bodies)
        for (const [name, body] of Object.entries(r.bodies)) if (body) bodies[name] = body
        return r
      }
      await add('convert/section-line', { bodies: ['b'], at: [20, 0, 3], normal: [0.3, 0, 1], name: 'loop' })
      await add('build/plane', { name: 'middle', at: [20, 0, 0], normal: [0, 1, 0] })
      await add('build/plane', { name: 'far', at: [90, 0, 0], normal: [1, 0, 0] })
      await add('build/outline', {
        name: 'away',
        on: 'far',
        drawing: {
          points: [
            [0, 0],
            [5, 0],
          ],
          curves: [{ kind: 'line', from: 0, to: 1 }],
        },
      })
      const r = await add('convert/quad-net', {
        body: 'b',
        name: 'n',
        count: 300,
        mirrorAt: 'middle',
        guides: ['loop', 'away'],
      })
      const net = netIn(r.bodies.n)
      expect(r.facts).toMatchObject({ closed: true, pieces: 1 })
      expect(r.warnings!.join()).toContain('"away" does not lie on "b"')
      // Corners in the plane of the section, all round.
      const [nx, nz] = [0.3, 1].map((v) => v / Math.hypot(0.3, 1))
      const on = Array.from({ length: net.positions.length / 3 }, (_, v) =>
        Math.abs((net.positions[3 * v] - 20) * nx + (net.positions[3 * v + 2] - 3) * nz),
      ).filter((d) => d < 0.05)
      expect(on.length).toBeGreaterThan(18)
      // One that lies on the half that goes guides through its image.
      await add('convert/section-line', { bodies: ['b'], at: [20, -5, 0], normal: [0, 1, 0], name: 'behind' })
      const through = await add('convert/quad-net', {
        body: 'b',
        name: 'k',
        count: 200,
        mirrorAt: 'middle',
        guides: ['behind'],
      })
      const k = netIn(through.bodies.k)
      for (const y of [-5, 5])
        expect([...k.positions].filter((v, i) => i % 3 === 1 && Math.abs(v - y) < 0.05).length).toBeGreaterThan(10)
      await expect(add('convert/quad-net', { body: 'b', name: 'm', guides: ['away'] })).rejects.toThrow(
        /nothing is guided/,
      )
      await expect(add('convert/quad-net', { body: 'b', name: 'm', mirrorAt: 'far' })).rejects.toThrow(/does not cut/)
    },
  )
  itLong('by edge length has quads of that length, mirrored ones at both sides of a plane', async () => {
    const r = await runStep(
      'convert/quad-net',
      { body: 'b', name: 'n', size: 'edge', edge: 4, symmetry: [true, false, false] },
      { b: meshBody(shifted(box(30, 20, 20), -15, -10, -10)) },
    )
    const net = netIn(r.bodies.n)
    expect(r.facts.closed).toBe(true)
    expect(Number(r.facts.edge)).toBeGreaterThan(3.4)
    expect(Number(r.facts.edge)).toBeLessThan(4.6)
    expect(meshVolume(trianglesOfQuads(net))).toBeCloseTo(12_000, 0)
    // An edge loop in the plane.
    expect([...net.positions].filter((x, i) => i % 3 === 0 && x === 0).length).toBeGreaterThan(12)
  })
  it('a plane that misses is named', async () => {
    const far = { b: meshBody(shifted(sphere(5, 2), 40, 0, 0)) }
    await expect(
      runStep('convert/quad-net', { body: 'b', name: 'n', count: 100, symmetry: ['x'] }, far),
    ).rejects.toThrow('The plane x = 0 does not cut "b".')
  })
  it('an edge so short that there would be no end is refused with the number it makes', async () => {
    await expect(
      runStep('convert/quad-net', { body: 'b', name: 'n', size: 'edge', edge: 0.01 }, { b: meshBody(box(20, 20, 20)) }),
    ).rejects.toThrow(/makes .* quads/)
  })
})

describe('Cage and Smooth solid', () => {
  it('a cage keeps creases and corners through its bytes and under a mirror', async () => {
    const r = await runStep('convert/cage', { body: 'n', name: 'c', creaseAngle: 45 }, { n: await cube() })
    const c = r.bodies.c!
    expect(r.facts).toMatchObject({ faces: 96, creases: 48 })
    const back = decodeBody(encodeBody(c))
    if (!isCage(c) || !isCage(back)) throw new Error('no cage')
    expect([...back.cage.creases].sort()).toEqual([...c.cage.creases].sort())
    expect(back.cage.positions).toEqual(c.cage.positions)
  })
  it('through a scan needs one', async () => {
    await expect(runStep('convert/cage', { body: 'n', name: 'c', through: true }, { n: await cube() })).rejects.toThrow(
      'No scan',
    )
  })
  it('an open net becomes a sheet, a closed one a solid that booleans take', async () => {
    const net = quadBlock([20, 20, 20], [0, 0, 0], 2)
    const lid = netBody({ positions: net.positions, quads: net.quads.subarray(0, 64) })
    const open = await runStep('convert/smooth-solid', { body: 'n', name: 's', creaseAngle: 180 }, { n: lid })
    expect([open.bodies.s!.kind, open.facts.closed, open.facts.valid]).toEqual(['sheet', false, true])
    const solid = await runStep('convert/smooth-solid', { body: 'n', name: 's' }, { n: netBody(net) })
    expect(solid.facts).toMatchObject({ closed: true, valid: true, faces: 6 })
    const cutter = (await fixtures.solid()).two
    const cut = await runStep('build/difference', { from: 's', take: ['t'] }, { s: solid.bodies.s!, t: cutter })
    expect(Number(cut.facts.volume)).toBeCloseTo(8000 - Math.PI * 16 * 20, 1)
  })
})

describe('cages by hand', () => {
  it('edits are told, measured to a scan, and named where one does not fit', async () => {
    const scan = meshBody(sphere(16, 4))
    const shape = await runStep('convert/cage-shape', { shape: 'sphere', radius: 15, side: 4, name: 'c' }, {})
    const c = shape.bodies.c!
    const r = await runStep(
      'convert/edit-cage',
      { body: 'c', scan: 's', edits: [{ do: 'snap' }, { do: 're-fit' }] },
      { c, s: scan },
    )
    expect(r.facts).toMatchObject({ faces: 96, edits: 2, closed: true })
    // The facets of the ball lie within 0.3 % of it; the cage fits them.
    expect((r.facts.deviation as { max: number }).max).toBeLessThan(0.08)
    expect(r.said).toContain('2 edits · 96 faces · off "s" by at most')
    await expect(runStep('convert/edit-cage', { body: 'c', edits: [{ do: 'snap' }] }, { c })).rejects.toThrow(
      'Edit 1 (snap to the scan): No scan is chosen',
    )
    await expect(runStep('convert/edit-cage', { body: 'c', edits: [{ do: 'nonsense' }] }, { c })).rejects.toThrow()
  })
  it('shapes of each sort have the faces that are asked for; an odd rim is told with the next number', async () => {
    const faces = async (set: Record<string, unknown>) =>
      (await runStep('convert/cage-shape', { name: 'c', ...set }, {})).facts.faces
    expect(await faces({ shape: 'block' })).toBe(2 * (4 * 3 + 3 * 2 + 2 * 4))
    expect(await faces({ shape: 'sheet', faces: 5, across: 7 })).toBe(35)
    expect(await faces({ shape: 'cylinder', around: 8, up: 3 })).toBe(24 + 2 * 4)
    await expect(faces({ shape: 'cylinder', around: 9 })).rejects.toThrow(/9 is odd/)
    // Steps told before each shape had numbers of its own keep their faces.
    const older = (set: Record<string, unknown>) =>
      faces(upgradeStep({ id: 's', kind: 'convert/cage-shape', set: { name: 'c', ...set } }).set)
    expect(await older({ shape: 'sphere', faces: 3 })).toBe(6 * 9)
    expect(await older({ shape: 'cylinder', faces: 6, across: 2 })).toBe(12 * 2 + 2 * 9)
  })
  it('two laid side by side are one, bridged through to a ring', async () => {
    const block = async (x: number) =>
      (
        await runStep(
          'convert/cage-shape',
          { shape: 'block', size: [10, 10, 10], faces: 2, across: 2, tall: 2, at: [x, 0, 0], name: 'c' },
          {},
        )
      ).bodies.c!
    const joined = await runStep(
      'convert/join-cages',
      { bodies: ['a', 'b'] },
      { a: await block(0), b: await block(30) },
    )
    expect(joined.bodies.b).toBeNull()
    const faces: [number, number, number][] = []
    for (const x of [5, 25]) for (const y of [-2.5, 2.5]) for (const z of [2.5, 7.5]) faces.push([x, y, z])
    const r = await runStep(
      'convert/edit-cage',
      { body: 'a', edits: [{ do: 'bridge', faces, rows: 3 }] },
      { a: joined.bodies.a! },
    )
    expect(r.facts).toMatchObject({ faces: 24 + 24 - 8 + 24, closed: true })
    // The same within one step of edits.
    const set = { body: 'a', joined: ['b'], edits: [{ do: 'bridge', faces, rows: 3 }] }
    const bench = { a: await block(0), b: await block(30) }
    const at = await runStep('convert/edit-cage', set, bench)
    expect(at.bodies.b).toBeNull()
    expect(at.bodies.a).toEqual(r.bodies.a)
    await expect(runStep('convert/edit-cage', { ...set, joined: ['a'] }, bench)).rejects.toThrow(/picked twice/)
    await expect(runStep('convert/edit-cage', set, { ...bench, b: meshBody(box(1, 1, 1)) })).rejects.toThrow(
      /"b" is a mesh; this step works on a cage/,
    )
  })
  it('through sections that are outlines, with the ends square or flat', async () => {
    const { one, two } = await fixtures.outline()
    const r = await runStep(
      'convert/cage-from-sections',
      { sections: ['one', 'two'], columns: 16, rows: 2, name: 'c' },
      { one, two },
    )
    expect(r.facts).toMatchObject({ closed: true, open: 0, sections: 2 })
    expect(Number(r.facts.off)).toBeLessThan(1.2)
    const bent = await runStep(
      'convert/cage-from-sections',
      { sections: ['one', 'two'], columns: 32, byBend: 60, name: 'c' },
      { one, two },
    )
    expect(Number(bent.facts.off)).toBeLessThan(Number(r.facts.off))
    const coarse = await runStep(
      'convert/cage-from-sections',
      { sections: ['one', 'two'], columns: 4, rows: 2, name: 'c' },
      { one, two },
    )
    expect(coarse.warnings!.join()).toMatch(/lies up to [\d.]+ mm off the sections/)
    await expect(
      runStep('convert/cage-from-sections', { sections: ['one', 'two'], columns: 7, name: 'c' }, { one, two }),
    ).rejects.toThrow(/7 is odd/)
  })
  it('laid on a scan: its surface on it, its distance told', async () => {
    const s = meshBody(sphere(20, 5))
    const r = await runStep('convert/lay-on', { body: 's', at: [0, 0, 20], width: 16, depth: 12, name: 'c' }, { s })
    expect(r.facts).toMatchObject({ faces: 36, missed: 0 })
    expect(Number(r.facts.max)).toBeLessThan(0.08)
    const wide = await runStep('convert/lay-on', { body: 's', at: [0, 0, 20], width: 60, depth: 12, name: 'c' }, { s })
    expect(wide.warnings!.join()).toMatch(/had nothing under it/)
  })
})

describe('Skin region', () => {
  it('lies over the largest of several areas: crumbs are left out and told, more only where that is ticked', async () => {
    const m = meshBody(sphere(20, 5))
    const cap = (at: [number, number, number], radius: number) => ({ pick: 'brush', mode: 'add', path: [at], radius })
    const skin = (region: unknown, more = {}) =>
      runStep('convert/skin-region', { body: 'm', region, name: 'k', ...more }, { m })
    const alone = await skin([cap([0, 0, 20], 12)])
    const crumbed = await skin([cap([0, 0, 20], 12), cap([0, 0, -20], 1)])
    expect(crumbed.facts.deviation).toEqual(alone.facts.deviation)
    expect(crumbed.warnings!.join()).toMatch(/^1 further area of the region, [\d.]+ % of it, was left out/)
    const two = [cap([0, 0, 20], 12), cap([0, 0, -20], 8)]
    await expect(skin(two)).rejects.toThrow(/2 separate areas/)
    expect((await skin(two, { largest: true })).facts.deviation).toEqual(alone.facts.deviation)
  })
  it('lies over a picked cap, extended or trimmed to its rim, with its distance', async () => {
    const m = meshBody(sphere(20, 5))
    const region = [
      { pick: 'grow', mode: 'add', at: [0, 0, 20], follow: 'angle', angle: 40 },
      { pick: 'brush', mode: 'add', path: [[0, 0, 20]], radius: 12 },
    ].slice(1)
    const whole = await runStep('convert/skin-region', { body: 'm', region, extend: 2, name: 'k' }, { m })
    expect(whole.facts).toMatchObject({ by: 'projection' })
    expect((whole.facts.deviation as { max: number }).max).toBeLessThan(0.05)
    const trimmed = await runStep('convert/skin-region', { body: 'm', region, trim: true, name: 'k' }, { m })
    const area = (b: Body | null | undefined) => (b as unknown as { facts: { area: number } }).facts.area
    expect(area(trimmed.bodies.k)).toBeLessThan(area(whole.bodies.k) * 0.75)
    const coarse = await runStep(
      'convert/skin-region',
      { body: 'm', region, how: 'detail', detail: 1, tolerance: 1e-4, name: 'k' },
      { m },
    )
    expect(Number(coarse.facts.controlPoints)).toBe(16)
    await expect(
      runStep('convert/skin-region', { body: 'm', region: [{ pick: 'all' }], name: 'k' }, { m }),
    ).rejects.toThrow(/whole closed skin/)
  })
})

describe('a skin written by hand', () => {
  it('says by its detail alone that the detail is meant', () => {
    const of = (set: Record<string, unknown>) =>
      upgradeStep({ id: 's', kind: 'convert/skin-region', set: { body: 'm', region: [], name: 'k', ...set } }).set.how
    expect(of({ detail: 12 })).toBe('detail')
    expect(of({ tolerance: 0.1 })).toBeUndefined()
    expect(of({ tolerance: 0.1, detail: 12 })).toBeUndefined()
    expect(of({ how: 'tolerance', detail: 12 })).toBe('tolerance')
  })
})

describe('Auto skin', () => {
  itLong(
    'a ball within a tolerance: a valid solid, smooth, of its volume; raised where the first net does not reach it',
    async () => {
      const b = meshBody(sphere(20, 3))
      const r = await runStep('convert/auto-skin', { body: 'b', tolerance: 0.245, first: 24, name: 'k' }, { b })
      expect(r.facts).toMatchObject({ closed: true, valid: true, beyond: 0 })
      expect(Number(r.facts.tries)).toBeGreaterThan(1)
      expect((r.facts.deviation as { max: number }).max).toBeLessThan(0.3)
      expect(Number(r.facts.worstAngle)).toBeLessThan(1)
      expect(Math.abs(Number(r.facts.volume) / meshVolume(sphere(20, 3)) - 1)).toBeLessThan(0.005)
      const poor = await runStep(
        'convert/auto-skin',
        { body: 'b', tolerance: 0.001, first: 40, most: 40, name: 'k' },
        { b },
      )
      expect(poor.warnings!.join()).toMatch(/lie farther off than 0.001 mm, the worst by .* at /)
    },
  )
  itLong('an open bowl becomes a sheet with its rim', async () => {
    const bowl = meshBody(without(sphere(20, 3), (_x, _y, z) => z > 4))
    const r = await runStep('convert/auto-skin', { body: 'b', tolerance: 0.5, first: 60, name: 'k' }, { b: bowl })
    expect(r.bodies.k!.kind).toBe('sheet')
    expect(r.facts).toMatchObject({ closed: false, valid: true })
  })
})
