import { Gem } from 'lucide-react'
import { defineTool } from '../tool'

export const facetSolidTool = defineTool({ kind: 'convert/facet-solid', icon: Gem })
