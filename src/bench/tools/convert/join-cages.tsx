import { Combine } from 'lucide-react'
import { defineTool } from '../tool'

export const joinCagesTool = defineTool({ kind: 'convert/join-cages', icon: Combine })
