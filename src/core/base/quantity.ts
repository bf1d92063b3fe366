/** Reads what a maker types into a number field: units, arithmetic and named values, as in "1/4 in", "25.4/2" or "2*wall + 1.5 mm". */

const lengthUnits: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  um: 0.001,
  µm: 0.001,
  in: 25.4,
  inch: 25.4,
  '"': 25.4,
  ft: 304.8,
  "'": 304.8,
  thou: 0.0254,
  mil: 0.0254,
}
const angleUnits: Record<string, number> = { deg: 1, '°': 1, rad: 180 / Math.PI }

export type QuantityKind = 'length' | 'angle' | 'plain'

/** What a value may be called: a letter, then letters, digits and low lines; not a unit's name. */
export const isValueName = (name: string): boolean =>
  /^[A-Za-z_][A-Za-z0-9_]{0,39}$/.test(name) && !(name in lengthUnits) && !(name in angleUnits)

/** The named values a text speaks of, in order, each once. */
export const namesIn = (text: string): string[] => [
  ...new Set([...text.matchAll(/(?<![A-Za-z0-9_.])[A-Za-z_][A-Za-z0-9_]*/g)].map((m) => m[0]).filter(isValueName)),
]

/**
 * The value in mm, degrees or plain; null when the text is no quantity or speaks of a value that there is not.
 * A decimal comma counts as a point.
 */
export function parseQuantity(
  input: string,
  kind: QuantityKind,
  named: (name: string) => number | undefined = () => undefined,
): number | null {
  const units = kind === 'length' ? lengthUnits : kind === 'angle' ? angleUnits : { '%': 1 }
  const text = input.trim().replace(/,/g, '.').replace(/−/g, '-').replace(/×/g, '*').replace(/÷/g, '/')
  if (!text) return null
  let at = 0
  const space = () => {
    while (text[at] === ' ') at++
  }
  /** A value and the unit it carries; "1/4 in" is a quarter inch, so a unit belongs to its whole product. */
  interface Measured {
    v: number
    unit: number | null
  }
  const unit = (): number | null => {
    space()
    const name = Object.keys(units)
      .sort((a, b) => b.length - a.length)
      .find((u) => text.startsWith(u, at) && !/[a-z]/i.test(/[a-z]/i.test(u) ? (text[at + u.length] ?? '') : ''))
    if (!name) return null
    at += name.length
    return (units as Record<string, number>)[name]
  }
  const atom = (): Measured => {
    space()
    if (text[at] === '-' || text[at] === '+') {
      const sign = text[at++] === '-' ? -1 : 1
      const m = atom()
      return { v: sign * m.v, unit: m.unit }
    }
    if (text[at] === '(') {
      at++
      const m = sum()
      space()
      if (text[at++] !== ')') throw new Error('bracket')
      const u = unit()
      if (u !== null && m.unit !== null) throw new Error('two units')
      return { v: m.v, unit: u ?? m.unit }
    }
    const word = /^[A-Za-z_][A-Za-z0-9_]*/.exec(text.slice(at))?.[0]
    if (word !== undefined) {
      const v = isValueName(word) ? named(word) : undefined
      if (v === undefined) throw new Error('name')
      at += word.length
      return { v, unit: unit() }
    }
    const m = /^\d+(\.\d*)?(e[+-]?\d+)?|^\.\d+/i.exec(text.slice(at))
    if (!m) throw new Error('number')
    at += m[0].length
    return { v: Number(m[0]), unit: unit() }
  }
  const product = (): Measured => {
    let { v, unit: u } = atom()
    for (;;) {
      space()
      const op = text[at]
      if (op !== '*' && op !== '/') return { v, unit: u }
      at++
      const next = atom()
      if (u !== null && next.unit !== null) throw new Error('two units')
      v = op === '*' ? v * next.v : v / next.v
      u ??= next.unit
    }
  }
  const sum = (): Measured => {
    let total = product()
    for (;;) {
      space()
      const op = text[at]
      if (op !== '+' && op !== '-') return total
      at++
      const next = product()
      const plain = total.unit === null && next.unit === null
      const value = total.v * (total.unit ?? 1) + (op === '+' ? 1 : -1) * next.v * (next.unit ?? 1)
      total = { v: value, unit: plain ? null : 1 }
    }
  }
  try {
    const m = sum()
    const v = m.v * (m.unit ?? 1)
    space()
    return at === text.length && Number.isFinite(v) ? v : null
  } catch {
    return null
  }
}
