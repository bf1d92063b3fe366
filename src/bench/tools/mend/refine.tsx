import { Grid3x3 } from 'lucide-react'
import { many } from '@/core/base/say'
import { trianglesFor } from '@/core/mend/refine'
import { defineTool, type CardProps } from '../tool'

/** Triangles to expect, told before it runs. */
function Estimate({ tool, bodies }: CardProps) {
  const area = bodies.find((b) => b.name === tool.values.body)?.facts?.figures.area
  const edge = tool.values.edge as number | undefined
  if (!edge || area === undefined) return null
  return (
    <p className="soft small mb-2" data-testid="estimate">
      about {many(trianglesFor(area, edge))} triangles
    </p>
  )
}

export const refineTool = defineTool({ kind: 'mend/refine', icon: Grid3x3, Extra: Estimate })
