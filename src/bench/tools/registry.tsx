/** Tools by the step they make, and their icons. */
import { CircleDot, type LucideProps } from 'lucide-react'
import { createElement } from 'react'
import { tools } from './all'
import type { ToolDefinition } from './tool'

const byKind = new Map<string, ToolDefinition>(tools.map((t: ToolDefinition) => [t.kind, t]))

export const toolOf = (kind: string): ToolDefinition | undefined => byKind.get(kind)

/** Adds a tool for as long as a test runs; gives what takes it out again. */
export function withTool(tool: ToolDefinition): () => void {
  byKind.set(tool.kind, tool)
  return () => void byKind.delete(tool.kind)
}

export const ToolIcon = ({ kind, ...rest }: { kind: string } & LucideProps) =>
  createElement(toolOf(kind)?.icon ?? CircleDot, { 'aria-hidden': true, ...rest })
