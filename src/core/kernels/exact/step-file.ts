/** STEP files (ISO 10303) of exact bodies, read and written. */
import type { STEPControl_Reader, TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { finish } from './build'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { withKernel } from './scope'
import { shapeOf } from './shape-cache'
import { compareWritten, type Sent } from './step-check'
import { coloured, stepNotes, toStepString } from './step-text'

export const stepSchemas = ['AP214', 'AP242'] as const
export type StepSchema = (typeof stepSchemas)[number]
/** The kernel's numbers of the schemas. */
const schemaNumber: Record<StepSchema, number> = { AP214: 4, AP242: 5 }

export interface StepFile {
  readonly bytes: Uint8Array
  /** What came back a little different when the file was read again. */
  readonly warnings: readonly string[]
}

/**
 * STEP text of exact bodies: ISO 10303-214, or -242 on wish; with names, and colours where bodies have one. The date in the head is fixed,
 * so the same bodies give the same bytes. What was written is read back and compared before it is given.
 * Throws StepError `file-check` when it does not come back as it was.
 */
export const writeStep = (bodies: readonly Sent[], schema: StepSchema = 'AP214'): Promise<StepFile> =>
  withKernel('Writing STEP', (oc) => {
    const writer = new oc.STEPControl_Writer()
    // Parameters are known only once a writer has been made.
    oc.Interface_Static.SetIVal('write.step.schema', schemaNumber[schema])
    for (const { body } of bodies) {
      const status = writer.Transfer(
        shapeOf(oc, body),
        'STEPControl_AsIs' as never,
        true,
        new oc.Message_ProgressRange(),
      )
      if (String(status) !== 'IFSelect_RetDone')
        throw new StepError('kernel', 'The exact kernel could not turn a body into STEP.')
    }
    const path = '/out.step'
    writer.Write(path)
    const text = oc.FS.readFile(path, { encoding: 'utf8' })
    oc.FS.unlink(path)
    const names = bodies.map((b) => toStepString(b.name))
    let product = 0
    const named = text
      .replace(
        /FILE_NAME\([\s\S]*?\);/,
        () =>
          `FILE_NAME('${names.join(', ').slice(0, 200).replace(/'+$/, '')}','2000-01-01T00:00:00',(''),(''),'','Glue Bench','');`,
      )
      .replace(/PRODUCT\('Open CASCADE STEP translator[^']*',\s*'[^']*'/g, () => {
        const n = names[product++] ?? 'body'
        return `PRODUCT('${n}','${n}'`
      })
    const bytes = new TextEncoder().encode(
      coloured(
        named,
        bodies.map((b) => ({ name: b.name, colour: b.body.colour })),
      ),
    )
    return { bytes, warnings: compareWritten(oc, bytes, bodies) }
  })

/** Sub-shapes of one kind that are not part of another kind: shells outside of solids, faces outside of shells. */
function loose(
  oc: Kernel,
  shape: TopoDS_Shape,
  kind: 'TopAbs_SHELL' | 'TopAbs_FACE',
  within: 'TopAbs_SOLID' | 'TopAbs_SHELL',
): TopoDS_Shape[] {
  const out: TopoDS_Shape[] = []
  const e = new oc.TopExp_Explorer(shape, kind as never, within as never)
  for (; e.More(); e.Next()) {
    const s = e.Current()
    if (!out.some((o) => o.IsSame(s))) out.push(s)
  }
  return out
}

/**
 * The solids of a STEP file and, as sheets, the shells and faces that belong to none; in mm, with the names and colours the file gives
 * them. `name` begins the names of faces. Throws StepError `damaged-file`.
 */
export const readStep = (bytes: Uint8Array, name = 'file', work: Work = quiet): Promise<ExactBody[]> =>
  withKernel('Reading STEP', (oc) => {
    const path = '/in.step'
    oc.FS.writeFile(path, bytes)
    const reader = new oc.STEPControl_Reader()
    const status = String(reader.ReadFile(path))
    oc.FS.unlink(path)
    if (status !== 'IFSelect_RetDone')
      throw new StepError('damaged-file', 'The STEP file cannot be read.', {
        tryThis: 'Export it again as AP203, AP214 or AP242.',
      })
    checkStop(work)
    work.progress(0.2, 'reading')
    const range = new oc.Message_ProgressRange()
    reader.TransferRoots(range)
    const shape = reader.OneShape()
    const solids = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list
    const sheets = [
      ...loose(oc, shape, 'TopAbs_SHELL', 'TopAbs_SOLID'),
      ...loose(oc, shape, 'TopAbs_FACE', 'TopAbs_SHELL'),
    ]
    const all = [...solids, ...sheets]
    if (!all.length)
      throw new StepError('damaged-file', 'The STEP file holds neither solids nor faces.', {
        tryThis: 'Wires and points alone cannot be brought in.',
      })
    const notes = noteShapes(oc, reader, bytes)
    return all.map((s, i) => {
      checkStop(work)
      work.progress(0.4 + (0.6 * i) / all.length, 'checking the bodies')
      const note = notes.find((n) => n.shapes.some((x) => x.IsPartner(s)))
      return finish(oc, s, {
        what: 'Reading STEP',
        prefix: `${all.length === 1 ? name : `${name} ${i + 1}`}/`,
        sheet: i >= solids.length,
        label: note?.name,
        colour: note?.colour,
      })
    })
  })

/** The shapes that entities with a name or a colour became. Uses the reader up. */
function noteShapes(
  oc: Kernel,
  reader: STEPControl_Reader,
  bytes: Uint8Array,
): { name?: string; colour?: string; shapes: TopoDS_Shape[] }[] {
  const notes = stepNotes(new TextDecoder().decode(bytes)).filter((n) => n.name || n.colour)
  if (!notes.length) return []
  try {
    const session = reader.WS() as unknown as { NumberFromLabel(label: string, after: number): number }
    const model = reader.StepModel() as unknown as { Value(n: number): unknown }
    return notes.map(({ entity, name, colour }) => {
      const n = session.NumberFromLabel(`#${entity}`, 0)
      reader.ClearShapes()
      if (n <= 0 || !reader.TransferEntity(model.Value(n) as never, new oc.Message_ProgressRange()))
        return { name, colour, shapes: [] }
      const s = reader.OneShape()
      const inside = (['TopAbs_SOLID', 'TopAbs_SHELL'] as const).flatMap((k) => new ShapeIndex(oc, s, k).list)
      return { name, colour, shapes: [s, ...inside] }
    })
  } catch {
    // Names and colours are a bonus; a file whose entities cannot be matched still comes in.
    return []
  }
}
