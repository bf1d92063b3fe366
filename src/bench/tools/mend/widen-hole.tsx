import { CircleDotDashed } from 'lucide-react'
import { defineTool } from '../tool'

export const widenHoleTool = defineTool({ kind: 'mend/widen-hole', icon: CircleDotDashed })
