/** The house as a whole: no file imports itself by way of others, not even for a type. Lint holds the walls and levels. */
import { describe, expect, it } from '@jest/globals'
import path from 'node:path'

const { importsOf, sourcesBelow } = (await import(path.resolve('scripts/test/imports.mjs'))) as {
  importsOf(files: readonly string[]): Map<string, string[]>
  sourcesBelow(dir: string): string[]
}

/** Circles of a graph: its strongly connected components of more than one node (Tarjan 1972). */
function circles(graph: ReadonlyMap<string, readonly string[]>): string[][] {
  const index = new Map<string, number>()
  const low = new Map<string, number>()
  const stack: string[] = []
  const found: string[][] = []
  const visit = (node: string): void => {
    index.set(node, index.size)
    low.set(node, index.get(node)!)
    stack.push(node)
    for (const next of graph.get(node) ?? []) {
      if (!index.has(next)) visit(next)
      if (stack.includes(next)) low.set(node, Math.min(low.get(node)!, low.get(next)!))
    }
    if (low.get(node) !== index.get(node)) return
    const circle = stack.splice(stack.indexOf(node))
    if (circle.length > 1) found.push(circle.sort())
  }
  for (const node of graph.keys()) if (!index.has(node)) visit(node)
  return found
}

describe('the house', () => {
  it('finds circles where there are some', () => {
    const graph = new Map([
      ['a', ['b']],
      ['b', ['c', 'd']],
      ['c', ['a']],
      ['d', []],
    ])
    expect(circles(graph)).toEqual([['a', 'b', 'c']])
  })
  it('has no circle of files', () => {
    const files = sourcesBelow('src').filter((f) => !/\.test\.tsx?$/.test(f))
    const graph = importsOf(files)
    expect(files.length).toBeGreaterThan(500)
    expect(graph.get('src/core/gauge/loyalty.ts')).toContain('src/core/gauge/winding.ts')
    expect(circles(graph)).toEqual([])
  })
})
