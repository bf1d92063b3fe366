/** The plane of a section is dragged by its arrow; one that lies in a face is moved half a millimetre into the body by one click. */
import { Slice } from 'lucide-react'
import { addScaled } from '@/core/math/vec'
import { directionOf, planeArrow, vectorOf } from '@/bench/hands/handle-kits'
import { tidyPoint } from '@/bench/fields/field'
import { Button } from '@/bench/forms/button'
import { useTool, withDefaults } from '@/bench/state/tool'
import { defineTool, type CardProps } from '../tool'

/** How far a plane is moved out of a face it lies in, mm. */
const shift = 0.5

function IntoTheBody({ tool, ghost }: CardProps) {
  const v = withDefaults(tool)
  if (!ghost.report?.facts.inFace || v.by !== 'numbers') return null
  const normal = directionOf(v.normal),
    at = vectorOf(v.at)
  if (!normal || !at) return null
  const into = () => {
    const way = ghost.report!.facts.behind ? -shift : shift
    useTool.getState().pick({ at: tidyPoint(addScaled(at, normal, way)) })
  }
  return (
    <Button size="sm" variant="quiet" className="mb-2 d-block" onClick={into}>
      Half a millimetre into the body
    </Button>
  )
}

export const sectionLineTool = defineTool({
  kind: 'convert/section-line',
  icon: Slice,
  Extra: IntoTheBody,
  handles: (v) => (v.by === 'numbers' ? planeArrow(vectorOf(v.at), directionOf(v.normal)) : []),
})
