import { Grab } from 'lucide-react'
import { CageWork } from '@/bench/cage/card'
import { cageHand } from '@/bench/cage/hand'
import { CageTray } from '@/bench/cage/tray'
import { defineTool } from '../tool'

export const editCageTool = defineTool({
  kind: 'convert/edit-cage',
  icon: Grab,
  Card: { Head: () => null, fields: ['edits'] },
  Extra: CageWork,
  hand: cageHand,
  Tray: CageTray,
  draws: 'instead',
})
