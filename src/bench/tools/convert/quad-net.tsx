import { Grid3x3 } from 'lucide-react'
import { mm, num, plural } from '@/core/base/say'
import { expectedNet } from '@/core/net/expected'
import { withDefaults } from '@/bench/state/tool'
import { defineTool, type CardProps } from '../tool'

/** The other of count and edge, and about how long it takes. */
function Expected({ tool, bodies }: CardProps) {
  const v = withDefaults(tool)
  const facts = bodies.find((b) => b.name === v.body)?.facts
  if (!facts) return null
  const { area = 0, triangles = 0 } = facts.figures
  const wanted = v.size === 'edge' ? { edge: Number(v.edge) } : { count: Number(v.count) }
  const e = expectedNet({ area, triangles }, wanted, v.hardEdges !== false)
  if (!e) return null
  return (
    <p className="soft small mb-2" data-testid="expected">
      About {v.size === 'edge' ? plural(e.quads, 'quad') : `${mm(e.edge)} an edge`}, in some{' '}
      {e.seconds < 90 ? `${num(Math.max(2, Math.round(e.seconds)), 0)} s` : `${num(Math.round(e.seconds / 60), 0)} min`}
    </p>
  )
}

export const quadNetTool = defineTool({ kind: 'convert/quad-net', icon: Grid3x3, Extra: Expected })
