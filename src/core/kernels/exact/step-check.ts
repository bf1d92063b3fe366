/** Whether a STEP file holds the bodies that were sent: read back, and measured in the same way on both sides. */
import { StepError } from '@/core/base/step-error'
import { many, num, plural } from '@/core/base/say'
import type { ExactBody } from '@/core/bodies/body'
import { distance, type Vec3 } from '@/core/math/vec'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { massOf, type FaceMass } from './mass'
import { withKernel } from './scope'
import { shapeOf } from './shape-cache'

export interface Sent {
  readonly name: string
  readonly body: ExactBody
}

/** Up to this share two measures of one body are the same. */
const same = 1e-6
/** Up to this share a sound body is sent with a word about it. */
const little = 1e-3

interface Measured {
  readonly solids: number
  readonly faces: readonly (FaceMass & { readonly body: string; readonly name: string })[]
  readonly area: number
  readonly volume: number
}

const shareOff = (is: number, was: number) => Math.abs(is - was) / Math.max(1, Math.abs(was))

/** A figure with as many digits as its difference from another needs. */
const figures = (is: number, was: number, unit: string): string => {
  const digits = Math.min(6, Math.max(1, Math.ceil(-Math.log10(Math.max(1e-9, Math.abs(is - was)))) + 1))
  return `${num(is, digits)} instead of ${num(was, digits)} ${unit}`
}

/** The face of those sent that came back least like itself; each is looked for among those that lie nearest. */
function worstFace(sent: Measured, read: Measured): { body: string; at: Vec3; words: string } | null {
  const left = new Set(read.faces.keys())
  let worst: { body: string; at: Vec3; words: string } | null = null
  let most = 0
  for (const [i, f] of sent.faces.entries()) {
    const unlike = (k: number) =>
      distance(read.faces[k].at, f.at) + Math.abs(read.faces[k].area - f.area) / (1 + Math.sqrt(f.area))
    // Files keep the order of faces as a rule.
    let best = left.has(i) && unlike(i) < 1e-6 ? i : -1
    if (best < 0) for (const k of left) if (best < 0 || unlike(k) < unlike(best)) best = k
    if (best < 0) return { body: f.body, at: f.at, words: `the face "${f.name}" of "${f.body}" did not come back` }
    left.delete(best)
    const off = unlike(best)
    if (off <= most) continue
    most = off
    worst = {
      body: f.body,
      at: f.at,
      words: `the face that differs most is "${f.name}" of "${f.body}": ${figures(read.faces[best].area, f.area, 'mm²')}`,
    }
  }
  return worst
}

function measured(oc: Kernel, bodies: readonly Sent[]): Measured {
  const all = bodies.map(({ name, body }) => {
    const shape = shapeOf(oc, body)
    const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE')
    const mass = massOf(oc, shape, faces, new ShapeIndex(oc, shape, 'TopAbs_EDGE'))
    return {
      solids: body.kind === 'solid' ? body.facts.pieces : 0,
      volume: body.kind === 'solid' ? mass.volume : 0,
      area: mass.area,
      faces: mass.faces.map((f, i) => ({ ...f, body: name, name: body.parts.faces[i]?.name ?? `face ${i + 1}` })),
    }
  })
  const sum = (of: (m: (typeof all)[number]) => number) => all.reduce((s, m) => s + of(m), 0)
  return {
    solids: sum((m) => m.solids),
    volume: sum((m) => m.volume),
    area: sum((m) => m.area),
    faces: all.flatMap((m) => m.faces),
  }
}

/**
 * Reads a file back and compares it with the bodies that went in: solids, faces, area and volume. Gives warnings where a sound body came
 * back a little different. Throws StepError `file-check` with both figures and the face that differs.
 */
export function compareWritten(oc: Kernel, bytes: Uint8Array, bodies: readonly Sent[]): string[] {
  const path = '/check.step'
  oc.FS.writeFile(path, bytes)
  const reader = new oc.STEPControl_Reader()
  const known = String(reader.ReadFile(path)) === 'IFSelect_RetDone'
  oc.FS.unlink(path)
  const failed = (why: string, where?: { body: string; at: Vec3 }) =>
    new StepError('file-check', `The STEP file was not sent out: read back, ${why}.`, {
      tryThis: 'Look at the bodies with Check-up, or send them out one by one.',
      ...(where ? { where: { body: where.body, point: where.at } } : {}),
    })
  if (!known) throw failed('it cannot be read')
  reader.TransferRoots(new oc.Message_ProgressRange())
  const shape = reader.OneShape()
  const sent = measured(oc, bodies)
  const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE')
  const solids = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list.length
  if (solids !== sent.solids) throw failed(`it holds ${plural(solids, 'solid')} instead of ${many(sent.solids)}`)
  const mass = massOf(oc, shape, faces, new ShapeIndex(oc, shape, 'TopAbs_EDGE'))
  const read: Measured = {
    solids,
    volume: mass.volume,
    area: mass.area,
    faces: mass.faces.map((f) => ({ ...f, body: '', name: '' })),
  }
  const worst = () => worstFace(sent, read)
  if (faces.list.length < sent.faces.length) {
    const w = worst()
    throw failed(
      `it holds ${plural(faces.list.length, 'face')} instead of ${many(sent.faces.length)}${w ? `; ${w.words}` : ''}`,
      w ?? undefined,
    )
  }
  const onlySolids = bodies.every((b) => b.body.kind === 'solid')
  const differ = [
    ...(onlySolids && shareOff(read.volume, sent.volume) > same
      ? [
          {
            share: shareOff(read.volume, sent.volume),
            words: `its volume is ${figures(read.volume, sent.volume, 'mm³')}`,
          },
        ]
      : []),
    ...(shareOff(read.area, sent.area) > same
      ? [{ share: shareOff(read.area, sent.area), words: `its area is ${figures(read.area, sent.area, 'mm²')}` }]
      : []),
  ]
  if (!differ.length) return []
  const w = worst()
  const words = [...differ.map((d) => d.words), ...(w ? [w.words] : [])].join('; ')
  const sound = new oc.BRepCheck_Analyzer(shape, true, false, false).IsValid()
  if (!sound || differ.some((d) => d.share > little)) throw failed(words, w ?? undefined)
  return [`The STEP file was read back: ${words}.`]
}

/** The same for bytes at hand. */
export const checkStepFile = (bytes: Uint8Array, bodies: readonly Sent[]): Promise<string[]> =>
  withKernel('Reading STEP back', (oc) => compareWritten(oc, bytes, bodies))
