/** The plane of a section is dragged by its arrow; one that lies in a face is moved half a millimetre into the body by one click. */
import { Slice } from 'lucide-react'
import { addScaled, dot, normalize, type Vec3 } from '@/core/math/vec'
import { tidyPoint } from '@/bench/fields/field'
import { Button } from '@/bench/forms/button'
import { useTool, withDefaults } from '@/bench/state/tool'
import { defineTool, type CardProps } from '../tool'

/** How far a plane is moved out of a face it lies in, mm. */
const shift = 0.5

function IntoTheBody({ tool, bodies, ghost }: CardProps) {
  const v = withDefaults(tool)
  if (!ghost.report?.facts.inFace || v.by !== 'numbers') return null
  const normal = normalize(v.normal as Vec3)
  const at = v.at as Vec3
  const into = () => {
    // The side on which the middle of what is cut lies.
    const cut = bodies.filter((b) => b.facts && (v.bodies as string[]).includes(b.name))
    const middle =
      cut.reduce(
        (s, b) => s + dot(normal, [0, 1, 2].map((k) => b.facts!.min[k] + b.facts!.size[k] / 2) as unknown as Vec3),
        0,
      ) / Math.max(1, cut.length)
    const way = middle < dot(normal, at) ? -shift : shift
    useTool.getState().pick({ at: tidyPoint(addScaled(at, normal, way)) })
  }
  return (
    <Button size="sm" variant="quiet" className="mb-2" onClick={into}>
      Half a millimetre into the body
    </Button>
  )
}

export const sectionLineTool = defineTool({
  kind: 'convert/section-line',
  icon: Slice,
  Extra: IntoTheBody,
  handles(v) {
    if (v.by !== 'numbers') return []
    const normal = normalize(v.normal as Vec3)
    const at = v.at as Vec3
    const level = dot(at, normal)
    return [
      {
        key: 'level',
        sort: 'arrow',
        label: 'Plane at',
        at,
        axis: normal,
        value: level,
        set: (to) => ({ at: tidyPoint(addScaled(at, normal, to - level)) }),
      },
    ]
  },
})
