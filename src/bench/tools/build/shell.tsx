import { PackageOpen } from 'lucide-react'
import { edgeArrow } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const shellTool = defineTool({
  kind: 'build/shell',
  icon: PackageOpen,
  handles: (v, bodies) => edgeArrow('wall', 'Wall', v.open, Number(v.wall), v, bodies),
})
