/** Reads what a maker types into a number field: units and arithmetic, as in "1/4 in", "25.4/2" or "2*(3+1.5) mm". */

const lengthUnits: Record<string, number> = { mm: 1, cm: 10, m: 1000, um: 0.001, 'µm': 0.001, in: 25.4, inch: 25.4, '"': 25.4, ft: 304.8, "'": 304.8, thou: 0.0254, mil: 0.0254 }
const angleUnits: Record<string, number> = { deg: 1, '°': 1, rad: 180 / Math.PI }

export type QuantityKind = 'length' | 'angle' | 'plain'

/** The value in mm, degrees or plain; null when the text is no quantity. A decimal comma counts as a point. */
export function parseQuantity(input: string, kind: QuantityKind): number | null {
  const units = kind === 'length' ? lengthUnits : kind === 'angle' ? angleUnits : { '%': 1 }
  const text = input.trim().replace(/,/g, '.').replace(/−/g, '-').replace(/×/g, '*').replace(/÷/g, '/')
  if (!text) return null
  let at = 0
  const space = () => { while (text[at] === ' ') at++ }
  const unit = (): number => {
    space()
    const name = Object.keys(units).sort((a, b) => b.length - a.length).find((u) => text.startsWith(u, at) && !/[a-z]/i.test(/[a-z]/i.test(u) ? (text[at + u.length] ?? '') : ''))
    if (!name) return 1
    at += name.length
    return (units as Record<string, number>)[name]
  }
  const atom = (): number => {
    space()
    if (text[at] === '-' || text[at] === '+') return text[at++] === '-' ? -atom() : atom()
    if (text[at] === '(') {
      at++
      const v = sum()
      space()
      if (text[at++] !== ')') throw new Error('bracket')
      return v * unit()
    }
    const m = /^\d+(\.\d*)?(e[+-]?\d+)?|^\.\d+/i.exec(text.slice(at))
    if (!m) throw new Error('number')
    at += m[0].length
    return Number(m[0]) * unit()
  }
  const product = (): number => {
    let v = atom()
    for (;;) {
      space()
      if (text[at] === '*') { at++; v *= atom() }
      else if (text[at] === '/') { at++; v /= atom() }
      else return v
    }
  }
  const sum = (): number => {
    let v = product()
    for (;;) {
      space()
      if (text[at] === '+') { at++; v += product() }
      else if (text[at] === '-') { at++; v -= product() }
      else return v
    }
  }
  try {
    const v = sum()
    space()
    return at === text.length && Number.isFinite(v) ? v : null
  } catch {
    return null
  }
}
