/** Bodies through sections, and along paths. */
import type { TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { num } from '@/core/base/say'
import { distance, normalize, type Vec3 } from '@/core/math/vec'
import type { Profile } from '@/core/outline/profile'
import { toSpace } from '@/core/outline/drawing'
import { alongOf } from '@/core/outline/parametric'
import { isTrap } from '../trap'
import { finish, runBuilder } from './build'
import { namesFor } from './extrude'
import { heldLoft } from './held-loft'
import type { Named } from './names'
import type { Kernel } from './kernel'
import { withKernel } from './scope'
import { drawnWire, pointOf } from './wires'

/** The outer loop of a profile's only area, or its only open run. */
function loopOf(oc: Kernel, name: string, p: Profile, hole = -1): TopoDS_Wire {
  const run = p.areas.length ? (hole < 0 ? p.areas[0].outer : p.areas[0].holes[hole]).curves : p.runs[0]
  if (p.areas.length > 1 || (!p.areas.length && p.runs.length !== 1))
    throw new StepError('many-areas', `"${name}" holds ${p.areas.length || p.runs.length} areas; a section has one.`, {
      where: { body: name },
      tryThis: 'Draw each section as an outline of its own.',
    })
  return drawnWire(oc, p.plane, p.divided, run, p.of).wire
}

export interface Loft {
  readonly sections: readonly { readonly name: string; readonly profile: Profile }[]
  /** Starts or ends in a point. */
  readonly tip?: Vec3
  readonly straight: boolean
  /** Runs round, back to its first section. */
  readonly closed: boolean
  /** How firmly it leaves its first and meets its last section square to their planes, 1 for evenly; left out: as it likes. */
  readonly startSquare?: number
  readonly endSquare?: number
  readonly name: string
}

/** A solid through closed sections, a sheet through open ones. Throws StepError `many-areas`, `mixed-sections`, `loft-failed`. */
export const makeLoft = (l: Loft): Promise<ExactBody> =>
  withKernel('Loft', (oc) => {
    const solid = l.sections[0].profile.areas.length > 0
    const holes = l.sections[0].profile.areas[0]?.holes.length ?? 0
    for (const { name, profile } of l.sections)
      if (profile.areas.length > 0 !== solid || (profile.areas[0]?.holes.length ?? 0) !== holes)
        throw new StepError(
          'mixed-sections',
          `"${name}" is not of the kind of the first section: all are closed with as many holes, or all open.`,
          {
            where: { body: name },
          },
        )
    const failed = new StepError('loft-failed', 'The sections cannot be joined smoothly.', {
      tryThis: 'Try straight, or bring the sections into the order in which they follow.',
    })
    const through = (hole: number): Named => {
      const round = l.closed && !l.straight && l.sections.length > 2
      if (l.startSquare || l.endSquare || round) {
        const held = l.sections.map((s) => ({ wire: loopOf(oc, s.name, s.profile, hole), profile: s.profile }))
        return heldLoft(oc, held, l.startSquare ?? 0, l.endSquare ?? 0, solid, l.name, failed, round)
      }
      const op = new oc.BRepOffsetAPI_ThruSections(solid, l.straight, 1e-6)
      const wires = l.sections.map((s) => loopOf(oc, s.name, s.profile, hole))
      for (const w of wires) op.AddWire(w)
      if (l.closed) op.AddWire(wires[0])
      if (l.tip) op.AddVertex(new oc.BRepBuilderAPI_MakeVertex(pointOf(oc, l.tip)).Vertex())
      op.CheckCompatibility(true)
      op.Build(new oc.Message_ProgressRange())
      if (!op.IsDone()) throw failed
      const shape = op.Shape()
      const told: [TopoDS_Shape, string][] =
        solid && !l.closed
          ? [
              [op.FirstShape(), `${l.name}/first`],
              [op.LastShape(), `${l.name}/last`],
            ]
          : []
      return { shape, names: namesFor(oc, shape, told).map((n) => n || `${l.name}/side`) }
    }
    let all = through(-1)
    for (let h = 0; h < holes; h++) {
      const inner = through(h)
      const op = new oc.BRepAlgoAPI_Cut(all.shape, inner.shape, new oc.Message_ProgressRange())
      all = runBuilder(oc, op, { failed, inputs: [all, inner] })
    }
    return finish(oc, all.shape, {
      what: 'Loft',
      names: all.names,
      prefix: `${l.name}/`,
      sheet: !solid,
      outward: solid,
    })
  })

export interface Sweep {
  readonly profile: Profile
  readonly path: Profile
  /** Keeps the section upright along this direction; left out: it follows the path. */
  readonly upright?: Vec3
  readonly round: boolean
  readonly name: string
}

/** The tightest arc of a path, mm; Infinity where there is none. */
function tightest(p: Profile): number {
  const run = p.areas.length ? p.areas[0].outer.curves : (p.runs[0] ?? [])
  return run.reduce((least, { curve }) => {
    const c = p.divided.curves[curve]
    if (c.kind === 'circle') return Math.min(least, c.radius)
    if (c.kind !== 'arc') return least
    const [a, b] = [p.divided.points[c.from], p.divided.points[c.centre]]
    return Math.min(least, Math.hypot(a[0] - b[0], a[1] - b[1]))
  }, Infinity)
}

/** The first place of a path, and the way it goes there (unit). */
export function pathStart(p: Profile): { at: Vec3; way: Vec3 } {
  const { curve, forward } = (p.areas.length ? p.areas[0].outer.curves : p.runs[0])[0]
  const along = alongOf(p.divided, p.divided.curves[curve])
  // A central difference at the very end would leave the curve; two steps to one side are exact to second order.
  const h = forward ? 1e-5 : -1e-5
  const [a, b, c] = [0, 1, 2].map((k) => toSpace(p.plane, along((forward ? 0 : 1) + k * h)))
  const way = [0, 1, 2].map((k) => -3 * a[k] + 4 * b[k] - c[k]) as unknown as Vec3
  return { at: a, way: normalize(way) }
}

/** A section carried along a path. Throws StepError `too-tight` where a bend is tighter than the section is wide, `sweep-failed`. */
export const makeSweep = (s: Sweep): Promise<ExactBody> =>
  withKernel('Sweep', (oc) => {
    const spine = loopOf(oc, 'path', s.path)
    const solid = s.profile.areas.length > 0
    const bend = tightest(s.path)
    const start = pathStart(s.path).at
    const places = s.profile.areas[0]?.outer.places ?? []
    const wide = Math.max(0, ...places.map((q) => distance(toSpace(s.profile.plane, q), start)))
    const failed = new StepError('sweep-failed', 'The section cannot be carried along that path.', {
      tryThis: 'Round the corners of the path, or let the section stay upright.',
    })
    const along = (hole: number): Named => {
      const op = new oc.BRepOffsetAPI_MakePipeShell(spine)
      if (s.upright) op.SetMode(new oc.gp_Dir(...s.upright))
      else op.SetMode(false)
      op.SetTransitionMode((s.round ? 'BRepBuilderAPI_RoundCorner' : 'BRepBuilderAPI_RightCorner') as never)
      op.Add(loopOf(oc, 'section', s.profile, hole), false, false)
      try {
        op.Build(new oc.Message_ProgressRange())
        if (!op.IsDone() || (solid && !op.MakeSolid())) throw failed
      } catch (error) {
        // The kernel throws where the section would have to turn too sharply.
        throw isTrap(error) ? error : failed
      }
      const shape = op.Shape()
      return {
        shape,
        names: namesFor(oc, shape, [
          [op.FirstShape(), `${s.name}/first`],
          [op.LastShape(), `${s.name}/last`],
        ]).map((n) => n || `${s.name}/side`),
      }
    }
    let all = along(-1)
    for (let h = 0; h < (s.profile.areas[0]?.holes.length ?? 0); h++) {
      const inner = along(h)
      const op = new oc.BRepAlgoAPI_Cut(all.shape, inner.shape, new oc.Message_ProgressRange())
      all = runBuilder(oc, op, { failed, inputs: [all, inner] })
    }
    if (solid && bend < wide)
      throw new StepError(
        'too-tight',
        `The path bends with a radius of ${num(bend)} mm, tighter than the section reaches (${num(wide)} mm): the body would cross itself.`,
        {
          tryThis: 'Widen the bend or take a smaller section.',
        },
      )
    try {
      return finish(oc, all.shape, {
        what: 'Sweep',
        names: all.names,
        prefix: `${s.name}/`,
        sheet: !solid,
        outward: solid,
      })
    } catch (error) {
      // Sharp corners nearer to each other than the section is wide.
      throw error instanceof StepError && error.code === 'not-valid' ? failed : error
    }
  })
