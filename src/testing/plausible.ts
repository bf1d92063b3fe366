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

/** What a step takes so that a test of it is short. */
const small: Record<string, Record<string, unknown>> = {
  'convert/quad-net': { count: 150 }, // 2000 take a test too long
  'convert/auto-skin': { first: 24, most: 24, tolerance: 2 },
  'bring-in/practice-scan': { stations: 3, detail: 3 }, // a rough scan
}

/** What a field is given whatever its definition says, by its name; undefined: nothing in particular. */
function byKey(step: AnyStep, { key, info, optional }: FieldEntry, turns: boolean): unknown {
  const own = small[step.kind]?.[key]
  if (own !== undefined) return own
  // From the size it would be much finer than a test needs.
  if (key === 'edge') return 1.5
  if (key === 'diameter' && optional) return 5
  if (key === 'open') return [{ at: [10, 10, 20] }]
  if (key === 'axis' && turns) return [0, 1, 0]
  if (key === 'at') {
    if (turns) return [-20, 0, 10]
    // On the wall of the bore, or across the middle.
    if (info.field === 'point') return info.pick === 'bore' ? [16, 10, 10] : [10, 10, 9.7]
    if (info.field === 'points') return [[10, 10, 20]]
  }
  if (key === 'faces' && !optional)
    // On the wall of the bore that some of these bodies have.
    return step.kind === 'build/delete-face' ? [{ at: [14, 10, 10] }] : [{ at: [0, 10, 10] }, { at: [20, 10, 10] }]
  return undefined
}

/** What a field is given by its kind; undefined: it is left out. `so`: what fields before it were given. */
function byKind({ key, info, optional }: FieldEntry, so: Record<string, unknown>): unknown {
  if (key === 'path') return 'two'
  const later = so.from !== undefined
  switch (info.field) {
    case 'body':
      return so.body === undefined && !later ? 'one' : 'two'
    case 'bodies':
      return so.from === 'one' || key === 'by' ? ['two'] : ['one', 'two']
    case 'new-body':
      return optional ? undefined : 'new'
    case 'region':
      return [{ pick: 'grow', mode: 'add', at: [10, 10, 0], angle: 20 }]
    case 'touch':
      return touchFor(info, key, so)
    case 'point':
      return optional ? undefined : later ? [10, 20, 22.5] : [10, 0, 20]
    case 'drawing':
      return { points: [[0, 0]], curves: [{ kind: 'circle', centre: 0, radius: 5 }] }
    case 'face':
    case 'edge':
      return { at: [10, 10, 20] }
    case 'faces':
    case 'edges':
      return 'all'
    case 'file':
    case 'out-file':
      return 'x.stl'
    case 'text':
      return optional ? undefined : 'x'
    default:
      return undefined
  }
}

/** Settings a maker might give: bodies are called "one" and "two", places lie on a cube of 20 mm from 0. */
export function plausible(step: AnyStep, so: Record<string, unknown> = {}): Record<string, unknown> {
  const out: Record<string, unknown> = { ...so }
  const fields = fieldsOf(step.settings)
  // An outline is turned about an axis in its plane.
  const turns = ['outline', 'at', 'axis'].every((k) => fields.some((f) => f.key === k && f.info.field !== 'points'))
  for (const field of fields) {
    const { key, info, optional, fallback } = field
    if (key in so) continue
    const set = byKey(step, field, turns)
    if (set !== undefined) out[key] = set
    if (fallback !== undefined && !['points', 'region', 'bodies'].includes(info.field)) continue
    if (out[key] !== undefined) continue
    if ((info.listed || (info.more && info.field === 'body')) && optional) continue
    const given = byKind(field, out)
    if (given !== undefined) out[key] = given
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
  // On both bodies of most pairs.
  const at = key.startsWith('to') || key === 'touchTo' ? [10, 14, 20] : [20, 10, 10]
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
