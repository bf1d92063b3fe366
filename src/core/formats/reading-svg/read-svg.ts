/** Reads SVG (SVG 1.1 and 2, W3C): paths and basic shapes under their transforms, at real size; scripts, styles and links are never followed. */
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import type { FlatModel } from '../flat-model'
import type { Unit } from '../units'
import { Layout } from './layout'
import { css, parseXml, type Node } from './xml'

/** Reads an SVG file. Throws StepError `damaged-file` with the line at fault, `empty` where it draws nothing, `too-large`. */
export function readSvg(bytes: Uint8Array): FlatModel {
  const svg = parseXml(new TextDecoder('utf-8', { fatal: false }).decode(bytes))
  const { mm, unit, origin, height } = sheetOf(svg)
  const layout = new Layout(svg)
  // y runs down on paper and up here; the lower left corner of the sheet is the origin.
  layout.lay([1, 0, 0, -1, -origin[0], origin[1] + height])
  const notes = notesOf(layout)
  const layers = layout.drawn.result()
  if (!layers.length)
    throw new StepError('empty', 'The file draws no path, line, circle, ellipse, rectangle or polygon.', {
      tryThis: layout.left.has('text') ? 'Turn its text into paths before exporting.' : 'Export the shapes themselves.',
    })
  return { format: 'svg', layers, unit, mm, notes }
}

interface Sheet {
  /** mm of the drawing's own unit: the width in the world over the width in the drawing's numbers (SVG 1.1, 7.7). */
  readonly mm: number
  /** The unit in which the file states its size. */
  readonly unit: Unit | null
  readonly origin: readonly [number, number]
  /** In the drawing's own unit. */
  readonly height: number
}

function sheetOf(svg: Node): Sheet {
  const box = (svg.at.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number)
  const view = box.length === 4 && box.every(Number.isFinite) && box[2] > 0 && box[3] > 0 ? box : null
  const size = (k: 'width' | 'height') => {
    const m = /^\s*([\d.]+(?:e[+-]?\d+)?)\s*([a-z%]*)\s*$/i.exec(svg.at[k] ?? '')
    return m && m[2] !== '%' ? { value: Number(m[1]), unit: m[2].toLowerCase() } : null
  }
  const [w, h] = [size('width'), size('height')]
  const stated = [w, h].find((s) => s && s.unit && s.unit !== 'px' && css[s.unit])
  const mmOf = (s: NonNullable<typeof w>) => s.value * (css[s.unit || 'px'] ?? css.px)
  const ratios = view ? [w && mmOf(w) / view[2], h && mmOf(h) / view[3]].filter((r): r is number => !!r && r > 0) : []
  const names: Readonly<Record<string, Unit>> = { mm: 'mm', cm: 'cm', in: 'inch' }
  return {
    // Where both are given and differ, the drawing keeps its shape and fits in.
    mm: ratios.length ? Math.min(...ratios) : css.px,
    unit: stated ? (names[stated.unit] ?? 'mm') : null,
    origin: view ? [view[0], view[1]] : [0, 0],
    height: view ? view[3] : (h?.value ?? 0),
  }
}

/** What was left out, or not done. Scripts are told by themselves, and taken from what is left. */
function notesOf({ left, outside, bad }: Layout): string[] {
  const notes: string[] = []
  const scripts = left.get('script')
  left.delete('script')
  if (scripts) notes.push(`${plural(scripts, 'script')} in the file ${scripts === 1 ? 'was' : 'were'} not run.`)
  if (outside)
    notes.push(
      `${plural(outside, 'link')} out of the file or in a ring ${outside === 1 ? 'was' : 'were'} not followed.`,
    )
  if (left.size) notes.push(`Left out, as they are no curves: ${[...left].map(([n, k]) => `${k} ${n}`).join(', ')}.`)
  if (bad) notes.push(`${plural(bad, 'shape')} could not be read to the end, or had no size.`)
  return notes
}
