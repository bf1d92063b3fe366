import { PenTool } from 'lucide-react'
import { OutlineHead } from '@/bench/outline/card'
import { outlineHand } from '@/bench/outline/hand'
import { OutlineTray } from '@/bench/outline/tray'
import { defineTool } from '../tool'

export const outlineTool = defineTool({
  kind: 'build/outline',
  icon: PenTool,
  Card: { Head: OutlineHead, fields: ['drawing'] },
  hand: outlineHand,
  Tray: OutlineTray,
  draws: 'beside',
})
