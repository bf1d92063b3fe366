/** Reads DXF: the text form; entities of the plane, blocks flattened, layers kept apart. */
import type DxfParser from 'dxf-parser'
import type { IEntity } from 'dxf-parser'
import { StepError } from '@/core/base/step-error'
import { plural } from '@/core/base/say'
import type { FlatModel } from '../flat-model'
import { damaged } from '../model'
import type { Unit } from '../units'
import { curveNames } from './curves'
import { parserOf } from './entities'
import { Layout, type Block } from './layout'
import { checked, namesIn, weightsOf } from './text'

/** Header variable INSUNITS (published DXF reference, from memory). */
const units: Readonly<Record<number, Unit>> = { 1: 'inch', 2: 'foot', 4: 'mm', 5: 'cm', 6: 'm', 13: 'micron' }

/** Names of entities that are read, and of those that belong to others. */
const known = new Set([...curveNames, 'LWPOLYLINE', 'POLYLINE', 'INSERT'])
const parts = new Set(['VERTEX', 'SEQEND', 'BLOCK', 'ENDBLK', 'ATTRIB', 'ATTDEF', 'VIEWPORT'])

/**
 * Reads a DXF file. What it cannot draw is listed in the notes.
 * Throws StepError `damaged-file` for one that is cut off or binary, `empty` where it draws nothing, `too-large`.
 */
export function readDxf(bytes: Uint8Array): FlatModel {
  const raw = new TextDecoder('utf-8', { fatal: false }).decode(bytes)
  if (/^[ -~]{0,14}Binary DXF/.test(raw.slice(0, 32)))
    throw damaged('it is a binary DXF, which is not read', 'byte 0', 'Export it as DXF in text form.')
  const text = checked(raw)
  const parsed = parse(text, bytes.length)
  const found = namesIn(text)
  const blocks = new Map(Object.entries(parsed.blocks ?? {})) as ReadonlyMap<string, Block>
  const entities = parsed.entities ?? []
  const lists = [...blocks.values()].map((b) => b.entities ?? [])
  const weights = /\n\s*41\s*\r?\n/.test(text) && found.has('SPLINE') ? weightsOf(text) : []
  const layout = new Layout(blocks, weightsBySpline([...lists, entities], weights))
  layout.lay(entities)
  const notes = notesOf(layout, found)
  const layers = layout.drawn.result()
  if (!layers.length)
    throw new StepError('empty', 'The file draws no line, arc, circle, ellipse, polyline or spline.', {
      tryThis: notes[0] ?? 'Export the drawing itself, not a layout of it.',
    })
  const code = Number((parsed.header as Record<string, unknown> | undefined)?.$INSUNITS ?? 0)
  return { format: 'dxf', layers, unit: units[code] ?? null, mm: null, notes }
}

function parse(text: string, size: number): NonNullable<ReturnType<DxfParser['parseSync']>> {
  let parsed: ReturnType<DxfParser['parseSync']>
  try {
    parsed = parserOf().parseSync(text)
  } catch (error) {
    const cut = !/^\s*EOF\s*$/m.test(text.slice(-200))
    throw damaged(
      cut
        ? 'it is cut off before its end'
        : `it cannot be read as DXF: ${String((error as Error).message ?? error).slice(0, 120)}`,
      cut ? `byte ${size}` : 'unknown place',
      'Export it again.',
    )
  }
  if (!parsed) throw damaged('it holds no sections', 'byte 0', 'Export it again.')
  return parsed
}

/** Weights are told by the order of splines in the file: blocks come before entities. */
function weightsBySpline(
  lists: readonly (readonly IEntity[])[],
  weights: readonly number[][],
): Map<IEntity, readonly number[]> {
  const splines = lists.flat().filter((e) => e.type === 'SPLINE')
  return new Map(splines.map((e, i) => [e, weights[i] ?? []]))
}

/** What could not be drawn as it stands. `found`: names of all entities with how many there are. */
function notesOf({ bad, missing, lifted }: Layout, found: ReadonlyMap<string, number>): string[] {
  const counts = (list: Iterable<readonly [string, number]>) => [...list].map(([n, k]) => `${k} ${n}`).join(', ')
  const notes: string[] = []
  const unknown = [...found].filter(([n]) => !known.has(n) && !parts.has(n))
  if (unknown.length) notes.push(`Left out, as they are no plane curves: ${counts(unknown)}.`)
  if (bad.size) notes.push(`Left out, as they have no size or no numbers: ${counts(bad)}.`)
  if (missing)
    notes.push(`${plural(missing, 'block')} could not be placed: it is not in the file, or stands in itself.`)
  if (lifted) notes.push(`${plural(lifted, 'curve')} stood off the plane; they lie in it now.`)
  return notes
}
