import { Shirt } from 'lucide-react'
import { many, num } from '@/core/base/say'
import { estimateReskin } from '@/core/skin/reskin'
import { defineTool, type CardProps } from '../tool'

/** Triangles and time to expect, told before it runs. */
function Estimate({ tool, bodies }: CardProps) {
  const facts = bodies.find((b) => b.name === tool.values.body)?.facts
  if (!facts) return null
  const { area, triangles } = facts.figures
  const edge = (tool.values.edge as number | undefined) ?? Math.hypot(...facts.size) / 200
  const e = estimateReskin(area, edge)
  const gap = Number(tool.values.gap ?? 0)
  return (
    <p className="soft small mb-2" data-testid="estimate">
      edge {num(edge, 3)} mm: about {many(e.triangles)} triangles,{' '}
      {e.seconds * (gap > 0 ? 2 : 1) + Math.round(triangles / 30_000)} s
    </p>
  )
}

export const reskinTool = defineTool({ kind: 'mend/reskin', icon: Shirt, Extra: Estimate })
