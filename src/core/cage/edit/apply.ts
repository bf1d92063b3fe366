/** Edits of a cage, one after the other. Each is found on the cage as it is by then. */
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import type { Ground } from '@/core/net/relax-quads'
import { subdivide, type Cage } from '@/core/subdivision/subdivide'
import { insertBay } from './bay'
import { bridge, fill } from './bridge'
import { drawFace } from './draw-face'
import { deleteFaces, dissolve, splitEdges } from './cut'
import { extrude, thicken } from './extrude'
import { insertLoop, slide } from './loop'
import { merge, weld } from './merge'
import { mirrorCage } from './mirror'
import { moveCage } from './move'
import { faceCount, meanEdge, nothing, resolve, type Picked } from './net'
import { editWords, type CageEdit, type Target } from './schema'
import { sharpen } from './sharpen'
import { refit, relax, snap } from './to-scan'

/** More faces are no cage to work on by hand. */
export const mostFaces = 50_000

/** One edit on what it is done to. @throws StepError, Stopped */
export function editOn(cage: Cage, picked: Picked, edit: CageEdit, ground: Ground | null, work: Work = quiet): Cage {
  switch (edit.do) {
    case 'move':
    case 'push':
    case 'turn':
    case 'scale':
    case 'flatten':
    case 'straighten':
      return moveCage(cage, picked, edit)
    case 'relax':
      return relax(cage, picked, edit)
    case 'snap':
      return snap(cage, picked, ground)
    case 're-fit':
      return refit(cage, picked, ground, work)
    case 'sharpen':
      return sharpen(cage, picked, edit)
    case 'extrude':
      return extrude(cage, picked, edit)
    case 'loop':
      return edit.between ? insertBay(cage, picked, edit) : insertLoop(cage, picked, edit)
    case 'slide':
      return slide(cage, picked, edit)
    case 'bridge':
      return bridge(cage, picked, edit)
    case 'fill':
      return fill(cage, picked)
    case 'face':
      return drawFace(cage, edit)
    case 'merge':
      return merge(cage, picked, edit)
    case 'weld':
      return weld(cage, picked, edit)
    case 'split':
      return splitEdges(cage, picked)
    case 'dissolve':
      return dissolve(cage, picked)
    case 'delete':
      return deleteFaces(cage, picked)
    case 'mirror':
      return mirrorCage(cage, edit)
    case 'thicken':
      return thicken(cage, edit)
    case 'subdivide':
      return subdivide(cage)
  }
}

const moves = new Set(['move', 'push', 'turn', 'scale', 'flatten', 'straighten'])

type Place = readonly [number, number, number]
const flipped = (x: Place, k: number, at = 0): [number, number, number] => [
  k === 0 ? 2 * at - x[0] : x[0],
  k === 1 ? 2 * at - x[1] : x[1],
  k === 2 ? 2 * at - x[2] : x[2],
]

/** The edit on the other side of its plane. */
function mirroredEdit(
  edit: CageEdit & Target & { symmetric?: 'x' | 'y' | 'z' | undefined; symmetricAt?: number | undefined },
): CageEdit {
  const k = 'xyz'.indexOf(edit.symmetric!)
  const list = (l: readonly Place[] | undefined) => l?.map((x) => flipped(x, k, edit.symmetricAt))
  return {
    ...edit,
    symmetric: undefined,
    ...(edit.points ? { points: list(edit.points) } : {}),
    ...(edit.edges ? { edges: list(edit.edges) } : {}),
    ...(edit.faces ? { faces: list(edit.faces) } : {}),
    ...('by' in edit && edit.by ? { by: flipped(edit.by, k) } : {}),
  } as CageEdit
}

const sameParts = (a: Picked, b: Picked) =>
  (['points', 'edges', 'faces'] as const).every((s) => {
    const own = new Set(a[s])
    return own.size === new Set(b[s]).size && b[s].every((i) => own.has(i))
  })

/** One edit; where it is symmetric, on both sides. @throws StepError, Stopped */
export function applyEdit(cage: Cage, edit: CageEdit, ground: Ground | null, work: Work = quiet): Cage {
  const target = edit as Target
  const picked = target.points || target.edges || target.faces ? resolve(cage, target) : nothing
  let out = editOn(cage, picked, edit, ground, work)
  if ('symmetric' in edit && edit.symmetric && !moves.has(edit.do)) {
    const other = mirroredEdit(edit)
    if (!sameParts(picked, resolve(cage, other as Target))) out = applyEdit(out, other, ground, work)
  }
  if (faceCount(out) > mostFaces)
    throw new StepError('too-many', `The cage would have more than ${mostFaces} faces.`, {
      tryThis: 'Take the last edit back.',
    })
  if (!out.positions.every(Number.isFinite) || !Number.isFinite(meanEdge(out)))
    throw new StepError('too-large', `${editWords[edit.do]} would move points out of all bounds.`, {
      tryThis: 'Take smaller numbers.',
    })
  return out
}

/** @throws StepError that tells which of the edits it was, Stopped */
export function applyEdits(cage: Cage, edits: readonly CageEdit[], ground: Ground | null, work: Work = quiet): Cage {
  return edits.reduce((now, edit, i) => {
    checkStop(work)
    work.progress(i / edits.length, editWords[edit.do].toLowerCase())
    try {
      return applyEdit(now, edit, ground, span(work, i / edits.length, (i + 1) / edits.length))
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      throw new StepError(
        error.code,
        `Edit ${i + 1} (${editWords[edit.do].toLowerCase()}): ${error.message}`,
        error.details,
      )
    }
  }, cage)
}
