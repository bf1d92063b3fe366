import { ChevronsLeftRightEllipsis } from 'lucide-react'
import { defineTool } from '../tool'

export const bridgeGapTool = defineTool({ kind: 'mend/bridge-gap', icon: ChevronsLeftRightEllipsis })
