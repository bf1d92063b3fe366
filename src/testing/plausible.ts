/** Settings and bodies for any step, from what its definition says of itself: what tests of every tool run on. */
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { withKernel } from '@/core/kernels/exact/scope'
import { finish } from '@/core/kernels/exact/build'
import { cageBody, meshBody, netBody, type Body, type DatumBody, type OutlineBody } from '@/core/bodies/body'
import { cageOfNet } from '@/core/cage/cage-of-net'
import { drawingPlane } from '@/core/outline/drawing'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { fieldsOf, type FieldEntry } from '@/core/step/fields'
import type { AnyStep } from '@/core/step/step'
import { quadBlock } from './quad-shapes'
import { box, shifted, without } from './shapes'

/** Settings a maker might give: bodies are called "one" and "two", places lie on a cube of 20 mm from 0. */
export function plausible(step: AnyStep, so: Record<string, unknown> = {}): Record<string, unknown> {
  const out: Record<string, unknown> = { ...so }
  const fields = fieldsOf(step.settings)
  // An outline is turned about an axis in its plane.
  const turns = ['outline', 'at', 'axis'].every((k) => fields.some((f) => f.key === k && f.info.field !== 'points'))
  for (const { key, info, optional, fallback } of fields) {
    if (key in so) continue
    if (key === 'edge') out[key] = 1.5 // from the size it would be much finer than a test needs
    if (key === 'count' && step.kind === 'convert/quad-net') out[key] = 150 // 2000 take a test too long
    if (step.kind === 'convert/auto-skin' && (key === 'first' || key === 'most')) out[key] = 24
    if (step.kind === 'convert/auto-skin' && key === 'tolerance') out[key] = 2
    if (step.kind === 'bring-in/practice-scan' && (key === 'stations' || key === 'detail')) out[key] = 3 // a rough scan
    if (key === 'diameter' && optional) out[key] = 5
    // On the wall of the bore, or across the middle.
    if (key === 'at' && info.field === 'point') out[key] = info.pick === 'bore' ? [16, 10, 10] : [10, 10, 9.7]
    if (key === 'at' && info.field === 'points') out[key] = [[10, 10, 20]]
    if (turns && key === 'at') out[key] = [-20, 0, 10]
    if (turns && key === 'axis') out[key] = [0, 1, 0]
    if (key === 'open') out[key] = [{ at: [10, 10, 20] }]
    if (key === 'faces' && !optional)
      // On the wall of the bore that some of these bodies have.
      out[key] =
        step.kind === 'build/delete-face' ? [{ at: [14, 10, 10] }] : [{ at: [0, 10, 10] }, { at: [20, 10, 10] }]
    if (fallback !== undefined && !['points', 'region', 'bodies'].includes(info.field)) continue
    if (out[key] !== undefined) continue
    if ((info.listed || (info.more && info.field === 'body')) && optional) continue
    if (key === 'path') out[key] = 'two'
    else if (info.field === 'body') out[key] = out.body === undefined && out.from === undefined ? 'one' : 'two'
    else if (info.field === 'bodies') out[key] = out.from === 'one' || key === 'by' ? ['two'] : ['one', 'two']
    else if (info.field === 'new-body' && !optional) out[key] = 'new'
    else if (info.field === 'region') out[key] = [{ pick: 'grow', mode: 'add', at: [10, 10, 0], angle: 20 }]
    else if (info.field === 'touch') out[key] = touchFor(info, key, out)
    else if (info.field === 'point' && !optional && out[key] === undefined)
      out[key] = out.from === undefined ? [10, 0, 20] : [10, 20, 22.5]
    else if (info.field === 'drawing')
      out[key] = { points: [[0, 0]], curves: [{ kind: 'circle', centre: 0, radius: 5 }] }
    else if (info.field === 'face' || info.field === 'edge') out[key] = { at: [10, 10, 20] }
    else if (info.field === 'faces' || info.field === 'edges') out[key] = 'all'
    else if (info.field === 'out-file' || info.field === 'file') out[key] = 'x.stl'
    else if (!optional && info.field === 'text') out[key] = 'x'
  }
  // What does not show is not set.
  const values: Record<string, unknown> = { ...Object.fromEntries(fields.map((f) => [f.key, f.fallback])), ...out }
  for (const { key, info } of fields)
    if (info.when && !info.when.is.includes(values[info.when.field] as string | boolean)) delete out[key]
  return out
}

/** Something that a touch of a field may mean and that any body of these fixtures has. */
function touchFor(info: FieldEntry['info'], key: string, so: Record<string, unknown>): unknown {
  const m = info.means
  let may = m && !('of' in m) ? m : (['point'] as const)
  if (m && 'of' in m) {
    // The way in which a face is touched: these bodies have no axes.
    const chosen = so[m.by] as string | undefined
    const way = chosen ?? Object.keys(m.of).find((w) => m.of[w][0] === 'plane') ?? Object.keys(m.of)[0]
    const list = m.of[way]
    so[m.by] = way
    may = list
  }
  const as = may[0]
  const at = key.startsWith('to') || key === 'touchTo' ? [10, 20, 10] : [20, 10, 10]
  return as === 'line' ? { as, at, to: [20, 10, 0] } : { as, at }
}

/** The settings of a step in each of its main ways: by its first choice, each value once. */
export function ways(step: AnyStep): Record<string, unknown>[] {
  const choice = fieldsOf(step.settings).find((f) => f.info.field === 'choice')
  if (!choice) return [plausible(step)]
  return Object.keys(choice.info.labels ?? {}).map((v) => plausible(step, { [choice.key]: v }))
}

const cube = box(20, 20, 20, 4)
const bar = shifted(box(8, 8, 40, 2), 6, 6, -10)

const quadCube = quadBlock([20, 20, 20], [0, 0, 0], 4)
const quadBar = quadBlock([8, 8, 40], [6, 6, -10], 2)

/** A flat sheet at a height, square. */
const flat = (z: number, from: number, to: number) =>
  withKernel('Making a face', (oc) => {
    const at = new oc.gp_Pln(new oc.gp_Pnt(0, 0, z), new oc.gp_Dir(0, 0, 1))
    return finish(oc, new oc.BRepBuilderAPI_MakeFace(at, from, to, from, to).Shape(), { what: 'Making', sheet: true })
  })

/** The wall of a tube over a circle of radius 10 about 10, 10. */
const tube = () =>
  withKernel('Making a face', (oc) => {
    const frame = new oc.gp_Ax3(new oc.gp_Pnt(10, 10, 0), new oc.gp_Dir(0, 0, 1), new oc.gp_Dir(1, 0, 0))
    const wall = new oc.BRepBuilderAPI_MakeFace(new oc.gp_Cylinder(frame, 10), 0, 2 * Math.PI, 0, 20).Face()
    return finish(oc, wall, { what: 'Making', sheet: true })
  })

/** Bodies "one" and "two" that cross each other, of each kind, and of kinds of mesh that tools are for. */
export const fixtures: Record<string, () => Promise<{ one: Body; two: Body }>> = {
  net: () => Promise.resolve({ one: netBody(quadCube), two: netBody(quadBar) }),
  cage: () => Promise.resolve({ one: cageBody(cageOfNet(quadCube, 45)), two: cageBody(cageOfNet(quadBar, 45)) }),
  mesh: () => Promise.resolve({ one: meshBody(cube), two: meshBody(bar) }),
  'mesh, open at the top': () =>
    Promise.resolve({ one: meshBody(without(cube, (_x, _y, z) => z > 19.9)), two: meshBody(bar) }),
  'mesh, two open tubes': () => {
    const tube = without(cube, (_x, _y, z) => z > 19.9 || z < 0.1)
    return Promise.resolve({ one: meshBody(concatMeshes([tube, shifted(tube, 0, 0, 24)])), two: meshBody(bar) })
  },
  'mesh with a bore': async () => {
    const { csg } = await import('@/core/join/csg')
    const { cylinder } = await import('./shapes')
    const { mesh } = await csg('difference', [
      { name: 'a', mesh: cube },
      { name: 'b', mesh: shifted(cylinder(6, 60, 48), 10, 10, -20) },
    ])
    return { one: meshBody(mesh), two: meshBody(bar) }
  },
  solid: async () => ({
    one: await makeBlock([20, 20, 20], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'one'),
    two: await makeCylinder(4, 40, [10, 10, -10], [0, 0, 1], 'two'),
  }),
  'solid with a bore': async () => {
    const { combineSolids } = await import('@/core/kernels/exact/boolean')
    const two = await makeCylinder(4, 40, [10, 10, -10], [0, 0, 1], 'two')
    const cube = await makeBlock([20, 20, 20], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'one')
    return { one: await combineSolids('difference', [cube, two]), two }
  },
  sheet: async () => ({ one: await flat(0, 0, 20), two: await flat(10, 0, 20) }),
  'sheet, a tube and a plane across it': async () => ({ one: await tube(), two: await flat(10, -5, 25) }),
  'solid, and a sheet through it': async () => ({
    one: await makeBlock([20, 20, 20], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'one'),
    two: await flat(15, -5, 25),
  }),
  outline: async () => {
    const { trace } = await import('@/core/trace/trace')
    const { chords, rounded } = await import('./profiles')
    const at = (z: number, r: number): Body => {
      const places = chords(rounded(20, 20, r))
      const { drawing } = trace([{ places, closed: true }], { line: 0.05, arc: 0.05 })
      const outline: OutlineBody = {
        kind: 'outline',
        plane: drawingPlane([0, 0, z], [0, 0, 1]),
        drawing,
        reference: [{ places: Float64Array.from(places.flat()), closed: true }],
      }
      return outline
    }
    return { one: at(10, 4), two: at(0, 2) }
  },
  'outline, and a path': () => {
    const circle: OutlineBody = {
      kind: 'outline',
      plane: drawingPlane([0, 0, 10], [0, 0, 1]),
      drawing: { points: [[0, 0]], curves: [{ kind: 'circle', centre: 0, radius: 3 }] },
      reference: [],
    }
    const line: OutlineBody = {
      kind: 'outline',
      plane: drawingPlane([0, 0, 10], [0, -1, 0]),
      drawing: {
        points: [
          [0, 0],
          [0, 20],
        ],
        curves: [{ kind: 'line', from: 0, to: 1 }],
      },
      reference: [],
    }
    return Promise.resolve({ one: circle as Body, two: line as Body })
  },
  datum: () => {
    const at = (z: number): Body => {
      const plane: DatumBody = { kind: 'datum', datum: 'plane', at: [10, 10, z], direction: [0, 0, 1], drawn: 20 }
      return plane
    }
    return Promise.resolve({ one: at(10), two: at(0) })
  },
}
