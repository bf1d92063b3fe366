import { SquareSplitVertical } from 'lucide-react'
import { directionOf, planeArrow, vectorOf } from '@/bench/hands/handle-kits'
import { defineTool } from '../tool'

export const cutByPlaneTool = defineTool({
  kind: 'build/cut-by-plane',
  icon: SquareSplitVertical,
  handles: (v) => planeArrow(vectorOf(v.at), directionOf(v.normal)),
})
