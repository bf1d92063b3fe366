/** The elements of an SVG file, with what their attributes say as numbers and maps. */
import { SaxesParser } from 'saxes'
import svgpath from 'svgpath'
import type { Place } from '@/core/outline/drawing'
import type { Flat } from '@/core/outline/transform'
import { deepest, mostObjects, tooMuch } from '../limits'
import { damaged } from '../model'

/** mm of the absolute units of CSS (CSS Values and Units 3, 6.2). */
export const css: Record<string, number> = {
  mm: 1,
  cm: 10,
  in: 25.4,
  pt: 25.4 / 72,
  pc: 25.4 / 6,
  px: 25.4 / 96,
  q: 0.25,
}

export interface Node {
  readonly name: string
  readonly at: Readonly<Record<string, string>>
  readonly children: Node[]
}

/** The svg element. Throws StepError `damaged-file` with the line at fault, `too-large`. */
export function parseXml(text: string): Node {
  const root: Node = { name: '', at: {}, children: [] }
  const stack = [root]
  let count = 0
  const parser = new SaxesParser()
  parser.on('error', (e) => {
    throw damaged(`it is not right as XML: ${e.message.slice(0, 120)}`, `line ${parser.line}`)
  })
  parser.on('opentag', (tag) => {
    if (++count > 20 * mostObjects) throw tooMuch('elements', 20 * mostObjects)
    if (stack.length > deepest) throw damaged('its elements stand too deep in one another', `line ${parser.line}`)
    const node: Node = {
      name: tag.name.replace(/^.*:/, ''),
      at: tag.attributes as Record<string, string>,
      children: [],
    }
    stack[stack.length - 1].children.push(node)
    stack.push(node)
  })
  parser.on('closetag', () => void stack.pop())
  parser.write(text).close()
  const svg = root.children.find((n) => n.name === 'svg')
  if (!svg) throw damaged('it holds no svg element', 'byte 0')
  return svg
}

/** A length in the drawing's own unit; `other` where there is none. */
export const number = (v: string | undefined, other = 0): number => {
  const m = /^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-z%]*)/i.exec(v ?? '')
  if (!m) return other
  const unit = m[2].toLowerCase()
  // Inside the drawing lengths count in its own unit, px; others are turned into it.
  return Number(m[1]) * (unit && unit !== 'px' && css[unit] ? css[unit] / css.px : 1)
}

/** A transform attribute as one map. */
export function mapOf(text: string | undefined): Flat {
  if (!text?.trim()) return [1, 0, 0, 1, 0, 0]
  const at = (x: number, y: number): Place => {
    let out: Place = [0, 0]
    svgpath(`M${x} ${y}`)
      .transform(text)
      .abs()
      .iterate((s) => {
        if (s[0] === 'M') out = [s[1], s[2]]
      })
    return out
  }
  const [o, p, q] = [at(0, 0), at(1, 0), at(0, 1)]
  return [p[0] - o[0], p[1] - o[1], q[0] - o[0], q[1] - o[1], o[0], o[1]]
}
