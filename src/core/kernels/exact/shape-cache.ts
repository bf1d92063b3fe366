/** Shapes of bodies, kept for a while so that a chain of steps does not read the same text again; bounded by bytes, one a thread. */
import { LRUCache } from 'lru-cache'
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import type { Kernel } from './kernel'
import { keep, release } from './scope'

/** The kernel's form of a shape takes about three times its text (measured on 1000 faces). */
const bytesOf = (text: string) => 3 * text.length + 1024
const bound = 128 << 20

let owner: Kernel | null = null
let shapes = new LRUCache<string, TopoDS_Shape>({ maxSize: bound })

/** The shape of a body, to look at. It belongs to the cache: neither change nor delete it, nor give it to a builder. Throws StepError `bad-body`. */
export function shapeOf(oc: Kernel, body: ExactBody): TopoDS_Shape {
  // A new kernel instance knows nothing of the old one's shapes.
  if (owner !== oc) {
    owner = oc
    shapes = new LRUCache({ maxSize: bound, sizeCalculation: (_s, text) => bytesOf(text), dispose: (s) => release(s) })
  }
  const have = shapes.get(body.brep)
  if (have) return have
  const shape = oc.BRepToolsWrapper.Read(body.brep)
  if (shape.IsNull()) throw new StepError('bad-body', 'The exact shape of a body could not be read back.')
  if (bytesOf(body.brep) <= bound / 4) shapes.set(body.brep, keep(shape))
  return shape
}

/**
 * The shape of a body for a feature to work on, read anew: builders write into the edges of what they are given (curves in the faces they
 * border), so that a shape used twice would give other bytes the second time. It ends with the scope. Throws StepError `bad-body`.
 */
export function ownShape(oc: Kernel, body: ExactBody): TopoDS_Shape {
  const shape = oc.BRepToolsWrapper.Read(body.brep)
  if (shape.IsNull()) throw new StepError('bad-body', 'The exact shape of a body could not be read back.')
  return shape
}

/** How many shapes are held. */
export const cachedShapes = (): number => shapes.size

/** Lets go of all of them. */
export const clearShapes = (): void => shapes.clear()
