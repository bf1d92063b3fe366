/** Hollow exact bodies and leaning faces. */
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { finish, runBuilder } from './build'
import { namedShape } from './boolean'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import type { Kernel } from './kernel'
import { shapesOf, type Named } from './names'
import { withKernel } from './scope'
import { pointOf } from './wires'

/** How an offset closes where its faces come apart or run through each other. */
type Corners = 'GeomAbs_Intersection' | 'GeomAbs_Arc'

/** What the kernel's offsets are told: how far, how exact, as a whole skin, with sharp corners. */
export const skin = (oc: Kernel, by: number, corners: Corners = 'GeomAbs_Intersection') =>
  [by, 1e-3, 'BRepOffset_Skin' as never, false, false, corners as never, false, new oc.Message_ProgressRange()] as const

const join = (oc: Kernel, input: Named, open: readonly number[], offset: number, corners: Corners): Named | null => {
  const faces = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list
  const list = new oc.NCollection_List_TopoDS_Shape()
  for (const i of open) list.Append(faces[i])
  const op = new oc.BRepOffsetAPI_MakeThickSolid()
  op.MakeThickSolidByJoin(input.shape, list, ...skin(oc, offset, corners))
  if (!op.IsDone()) return null
  return runBuilder(oc, op, {
    failed: new StepError('shell-failed', ''),
    inputs: [input],
    made: (source) => `inner(${source})`,
  })
}

/**
 * A body hollowed to a wall, open at some faces; without any open face a closed hollow is left inside.
 * @param wall mm @param out the wall stands outside of the body instead
 * Throws StepError `too-thick` with what works.
 */
export const shellBody = (body: ExactBody, open: readonly number[], wall: number, out: boolean): Promise<ExactBody> =>
  withKernel('Shell', (oc) => {
    const input = namedShape(oc, body)
    const by = (t: number, corners: Corners): ExactBody | null => {
      try {
        let made: Named | null
        if (open.length) made = join(oc, input, open, out ? t : -t, corners)
        else {
          const off = new oc.BRepOffsetAPI_MakeOffsetShape()
          off.PerformByJoin(input.shape, ...skin(oc, out ? t : -t, corners))
          if (!off.IsDone()) return null
          const [big, small] = out ? [off.Shape(), input.shape] : [input.shape, off.Shape()]
          const solid = (s: typeof big) => {
            const list = new ShapeIndex(oc, s, 'TopAbs_SOLID').list
            return list.length ? s : new oc.ShapeFix_Solid().SolidFromShell(oc.TopoDS.Shell(s))
          }
          const cut = new oc.BRepAlgoAPI_Cut(solid(big), solid(small), new oc.Message_ProgressRange())
          const parallel = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list.flatMap((f, i) =>
            shapesOf(oc, off.Generated(f)).map((g) => [g, `inner(${input.names[i]})`] as const),
          )
          const other = { shape: off.Shape(), names: namesFor(oc, off.Shape(), parallel) }
          made = runBuilder(oc, cut, { failed: new StepError('shell-failed', ''), inputs: [input, other] })
        }
        if (!made) return null
        const b = finish(oc, made.shape, {
          what: 'Shell',
          names: made.names,
          prefix: 'inner/',
          label: body.label,
          colour: body.colour,
        })
        const [was, is] = [body.facts.volume, b.facts.volume]
        // Too thick a wall gives the body back as it was; one that stands outside cannot be less than a skin's worth.
        const plausible = out ? is < body.facts.area * t * 3 && is > 0 : is < was * (1 - 1e-9)
        return plausible && b.kind === 'solid' && b.facts.faces !== body.facts.faces ? b : null
      } catch {
        return null
      }
    }
    // Faces that run on smoothly from fillets often only come together the second way, which leaves outer corners round.
    const attempt = (t: number) => by(t, 'GeomAbs_Intersection') ?? by(t, 'GeomAbs_Arc')
    const made = attempt(wall)
    if (made) return made
    let low = 0,
      high = wall
    for (let i = 0; i < 8; i++) {
      const middle = (low + high) / 2
      if (attempt(middle)) low = middle
      else high = middle
    }
    const best = Math.floor(low * 100) / 100
    throw new StepError(
      'too-thick',
      `A wall of ${num(wall)} mm does not fit there${best > 0 ? `; up to ${num(best)} mm works` : ''}.`,
      {
        tryThis: best > 0 ? `Take ${num(best)} mm or less.` : 'Open other faces, or shell before rounding edges.',
        ...(best > 0 ? { offer: { set: 'wall', to: best } } : {}),
      },
    )
  })

/** Faces leaned by an angle about where a neutral plane meets them; above zero they lean inward along `way`. Throws StepError `draft-failed`. */
export const draftFaces = (
  body: ExactBody,
  faces: readonly number[],
  degrees: number,
  neutral: { at: Vec3; normal: Vec3 },
): Promise<ExactBody> =>
  withKernel('Draft', (oc) => {
    const input = namedShape(oc, body)
    const list = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list
    const failed = (i?: number) =>
      new StepError(
        'draft-failed',
        `${i === undefined ? 'The faces' : `"${input.names[i]}"`} cannot lean by ${num(degrees)}°.`,
        {
          ...(i === undefined ? {} : { where: { point: body.parts.faces[i].at } }),
          tryThis: 'Lean faces before their edges are rounded, or take a smaller angle.',
        },
      )
    const op = new oc.BRepOffsetAPI_DraftAngle(input.shape)
    const plane = new oc.gp_Pln(pointOf(oc, neutral.at), new oc.gp_Dir(...neutral.normal))
    for (const i of faces) {
      op.Add(oc.TopoDS.Face(list[i]), new oc.gp_Dir(...neutral.normal), (degrees * Math.PI) / 180, plane, true)
      if (!op.AddDone()) throw failed(i)
    }
    op.Build(new oc.Message_ProgressRange())
    if (!op.IsDone()) throw failed()
    const shape = op.Shape()
    const names = namesFor(
      oc,
      shape,
      list.map((f, i) => [op.ModifiedShape(f), input.names[i]] as const),
    )
    try {
      return finish(oc, shape, { what: 'Draft', names, prefix: 'draft/', label: body.label, colour: body.colour })
    } catch {
      throw failed()
    }
  })
