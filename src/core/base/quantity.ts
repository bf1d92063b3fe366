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

/** A value and the unit it carries; "1/4 in" is a quarter inch, so a unit belongs to its whole product. */
interface Measured {
  readonly v: number
  readonly unit: number | null
}

/** Reads sums of products of numbers, named values and brackets; each of them may carry a unit. Throws where the text goes wrong. */
class Reader {
  private at = 0
  private readonly names: readonly string[]
  constructor(
    private readonly text: string,
    private readonly units: Readonly<Record<string, number>>,
    private readonly named: (name: string) => number | undefined,
  ) {
    this.names = Object.keys(units).sort((a, b) => b.length - a.length)
  }

  private next(): string {
    while (this.text[this.at] === ' ') this.at++
    return this.text[this.at] ?? ''
  }

  private unit(): number | null {
    this.next()
    const { text, at } = this
    const name = this.names.find(
      (u) => text.startsWith(u, at) && !/[a-z]/i.test(/[a-z]/i.test(u) ? (text[at + u.length] ?? '') : ''),
    )
    if (!name) return null
    this.at += name.length
    return this.units[name]
  }

  private atom(): Measured {
    const first = this.next()
    if (first === '-' || first === '+') {
      this.at++
      const { v, unit } = this.atom()
      return { v: first === '-' ? -1 * v : 1 * v, unit }
    }
    if (first === '(') {
      this.at++
      const inner = this.sum()
      if (this.next() !== ')') throw new Error('bracket')
      this.at++
      const unit = this.unit()
      if (unit !== null && inner.unit !== null) throw new Error('two units')
      return { v: inner.v, unit: unit ?? inner.unit }
    }
    const rest = this.text.slice(this.at)
    const word = /^[A-Za-z_][A-Za-z0-9_]*/.exec(rest)?.[0]
    if (word !== undefined) {
      const v = isValueName(word) ? this.named(word) : undefined
      if (v === undefined) throw new Error('name')
      this.at += word.length
      return { v, unit: this.unit() }
    }
    const number = /^\d+(\.\d*)?(e[+-]?\d+)?|^\.\d+/i.exec(rest)?.[0]
    if (number === undefined) throw new Error('number')
    this.at += number.length
    return { v: Number(number), unit: this.unit() }
  }

  private product(): Measured {
    let { v, unit } = this.atom()
    for (;;) {
      const op = this.next()
      if (op !== '*' && op !== '/') return { v, unit }
      this.at++
      const next = this.atom()
      if (unit !== null && next.unit !== null) throw new Error('two units')
      v = op === '*' ? v * next.v : v / next.v
      unit ??= next.unit
    }
  }

  private sum(): Measured {
    let total = this.product()
    for (;;) {
      const op = this.next()
      if (op !== '+' && op !== '-') return total
      this.at++
      const next = this.product()
      const plain = total.unit === null && next.unit === null
      const value = total.v * (total.unit ?? 1) + (op === '+' ? 1 : -1) * next.v * (next.unit ?? 1)
      total = { v: value, unit: plain ? null : 1 }
    }
  }

  /** The value of the whole text; null when something follows it, or it is none that is finite. */
  whole(): number | null {
    const { v, unit } = this.sum()
    const value = v * (unit ?? 1)
    return this.next() === '' && Number.isFinite(value) ? value : null
  }
}

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
  try {
    return new Reader(text, units, named).whole()
  } catch {
    return null
  }
}
