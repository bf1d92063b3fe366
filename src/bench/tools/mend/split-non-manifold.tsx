import { Split } from 'lucide-react'
import { defineTool } from '../tool'

export const splitNonManifoldTool = defineTool({ kind: 'mend/split-non-manifold', icon: Split })
