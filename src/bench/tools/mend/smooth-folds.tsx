import { Waves } from 'lucide-react'
import { defineTool } from '../tool'

export const smoothFoldsTool = defineTool({ kind: 'mend/smooth-folds', icon: Waves })
