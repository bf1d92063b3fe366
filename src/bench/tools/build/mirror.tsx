import { FlipHorizontal2 } from 'lucide-react'
import { directionOf, planeArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const mirrorCopyTool = defineTool({
  kind: 'build/mirror',
  icon: FlipHorizontal2,
  handles: (v) => planeArrow(vectorOf(v.at), directionOf(v.normal)),
})
