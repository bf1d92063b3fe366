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
  /** The scan that the cage was made or edited through last, where it is still there. */
  starts({ body }, { recipe }, bodies) {
    const through = recipe.steps.findLast((s) => s.set.scan && (s.set.name === body || s.set.body === body))
    const scan = bodies.find((b) => b.name === through?.set.scan)
    return scan ? { scan: scan.name } : {}
  },
})
