/** Lettering of a drawing: text in the shipped fonts as lines and splines, along a line or round a circle or arc. */
import type { Curve, Drawing, Place } from './drawing'
import { renumbered } from './joined'
import type { Lettering, LetteringFont } from './lettering-schema'
import { transformed, turnFlat, composeFlat } from './transform'

interface Font {
  readonly capital: number
  readonly glyphs: Readonly<Record<string, readonly [number, string]>>
  readonly kerning: Readonly<Record<string, number>>
}
export type Glyphs = Readonly<Record<LetteringFont, Font>>

/** The outlines of the shipped fonts; large, so they come when they are needed. */
export const loadGlyphs = async (): Promise<Glyphs> => (await import('./glyphs')).default as Glyphs

/** One glyph as a drawing in font units. Quadratic pieces are raised to cubics exactly. */
function glyphDrawing(path: string): Drawing {
  const points: Place[] = []
  const curves: Curve[] = []
  let first = -1,
    at = -1
  const put = (x: number, y: number) => points.push([x, y]) - 1
  const end = (x: number, y: number) => {
    const [a, b] = points[first]
    return Math.hypot(a - x, b - y) < 1e-9 ? first : put(x, y)
  }
  for (const [, letter, numbers] of path.matchAll(/([MLQCZ])([^MLQCZ]*)/g)) {
    const v = numbers.trim() ? numbers.trim().split(/\s+/).map(Number) : []
    // Fonts say some places twice.
    const stays =
      letter !== 'M' &&
      v.length > 0 &&
      Math.hypot(points[at][0] - v[v.length - 2], points[at][1] - v[v.length - 1]) < 1e-9
    if (letter === 'M') first = at = put(v[0], v[1])
    else if (stays && letter === 'L') continue
    else if (letter === 'L') {
      const to = end(v[0], v[1])
      if (to !== at) curves.push({ kind: 'line', from: at, to })
      at = to
    } else if (letter === 'Q' || letter === 'C') {
      const p = points[at]
      const [x, y] = v.slice(-2)
      const third = (a: number, b: number) => a + (2 / 3) * (b - a)
      const handles: Place[] =
        letter === 'Q'
          ? [
              [third(p[0], v[0]), third(p[1], v[1])],
              [third(x, v[0]), third(y, v[1])],
            ]
          : [
              [v[0], v[1]],
              [v[2], v[3]],
            ]
      const to = end(x, y)
      curves.push({
        kind: 'spline',
        control: [at, put(...(handles[0] as [number, number])), put(...(handles[1] as [number, number])), to],
        knots: [0, 0, 0, 0, 1, 1, 1, 1],
      })
      at = to
    } else if (at !== first) {
      curves.push({ kind: 'line', from: at, to: first })
      at = first
    }
  }
  return { points, curves }
}

/** The letters of one text with how far along each begins, mm, and those that the font does not have. */
function laid(
  l: Lettering,
  font: Font,
): { letters: { drawing: Drawing; at: number; width: number }[]; length: number; missing: string[] } {
  const scale = l.size / font.capital
  const letters: { drawing: Drawing; at: number; width: number }[] = []
  const missing = new Set<string>()
  let x = 0,
    before = ''
  for (const c of l.text) {
    const glyph = font.glyphs[c]
    if (!glyph) {
      missing.add(c)
      before = ''
      continue
    }
    if (letters.length) x += l.spacing
    x += (font.kerning[before + c] ?? 0) * scale
    letters.push({
      drawing: transformed(glyphDrawing(glyph[1]), [scale, 0, 0, scale, 0, 0]),
      at: x,
      width: glyph[0] * scale,
    })
    x += glyph[0] * scale
    before = c
  }
  return { letters, length: x, missing: [...missing] }
}

/** All lettering of a drawing as curves of their own, and the characters that were left out. */
export function lettersOf(d: Drawing, glyphs: Glyphs): { drawing: Drawing; missing: string[] } {
  const points: Place[] = []
  const curves: Curve[] = []
  const missing = new Set<string>()
  for (const l of d.lettering ?? []) {
    const { letters, length, missing: left } = laid(l, glyphs[l.font])
    for (const c of left) missing.add(c)
    const start = l.align === 'left' ? 0 : l.align === 'centre' ? -length / 2 : -length
    const p = d.points[l.at]
    const on = l.around === undefined ? undefined : d.curves[l.around]
    for (const { drawing, at, width } of letters) {
      let placed: Drawing
      if (on && (on.kind === 'circle' || on.kind === 'arc')) {
        // Each letter stands square on the circle over its own middle.
        const m = d.points[on.centre]
        const r =
          on.kind === 'circle' ? on.radius : Math.hypot(d.points[on.from][0] - m[0], d.points[on.from][1] - m[1])
        const from = Math.atan2(p[1] - m[1], p[0] - m[0])
        const along = (start + at + width / 2) / r
        const a = l.inside ? from + along : from - along
        const turn = (a * 180) / Math.PI + (l.inside ? 90 : -90)
        placed = transformed(
          drawing,
          composeFlat(
            [1, 0, 0, 1, m[0] + r * Math.cos(a), m[1] + r * Math.sin(a)],
            composeFlat(turnFlat(turn), [1, 0, 0, 1, -width / 2, 0]),
          ),
        )
      } else
        placed = transformed(
          drawing,
          composeFlat([1, 0, 0, 1, p[0], p[1]], composeFlat(turnFlat(l.turn), [1, 0, 0, 1, start + at, 0])),
        )
      const base = points.length
      points.push(...placed.points)
      curves.push(...placed.curves.map((c) => renumbered(c, (i) => base + i)))
    }
  }
  return { drawing: { points, curves }, missing: [...missing] }
}

/** Points and curves of a drawing with those of its letters, and nothing else of it. */
export function withLetters(d: Drawing, letters: Drawing | undefined): Drawing {
  if (!letters) return { points: d.points, curves: d.curves }
  const base = d.points.length
  return {
    points: [...d.points, ...letters.points],
    curves: [...d.curves, ...letters.curves.map((c) => renumbered(c, (i) => base + i))],
  }
}
