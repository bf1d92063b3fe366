/** The facts of a step that cards show, with label and unit. Well-known ones are named once here; a step may bring its own. */
import { many, num, sizeText, volumeText } from '@/core/base/say'
import type { Facts } from '@/core/base/facts'

/** How a figure is written. `signed-volume` tells a change; `angle-or-length` reads the unit beside it. */
export type FactForm =
  | 'count'
  | 'number'
  | 'length'
  | 'area'
  | 'volume'
  | 'signed-volume'
  | 'size'
  | 'angle'
  | 'share'
  | 'bytes'
  | 'measured'

export interface FactLine {
  readonly key: string
  readonly label: string
  readonly as: FactForm
  /** Left out when this other fact is there, which says more. */
  readonly unless?: string
  /** Left out when it is zero, which says nothing. */
  readonly some?: boolean
}

const known = {
  triangles: ['Triangles', 'count'],
  vertices: ['Vertices', 'count'],
  size: ['Size', 'size'],
  area: ['Area', 'area'],
  volume: ['Volume', 'volume', 'volumeChange'],
  volumeChange: ['Volume', 'signed-volume'],
  untouched: ['Untouched triangles', 'count'],
  chordToleranceMm: ['Chord tolerance', 'length'],
  pieces: ['Pieces', 'count'],
  offByMm: ['Corners off by', 'length'],
  faces: ['Faces', 'count'],
  factor: ['Factor', 'number'],
  joined: ['Joined', 'count'],
  removed: ['Removed', 'count'],
  closed: ['Closed', 'count'],
  left: ['Left', 'count'],
  longestEdgeMm: ['Longest rim', 'length'],
  equal: ['Holes changed', 'count'],
  turned: ['Turned', 'count'],
  moved: ['Moved', 'length'],
  planeRms: ['Plane rms', 'length'],
  crossingsBefore: ['Crossings before', 'count'],
  crossingsAfter: ['Crossings after', 'count'],
  foldsBefore: ['Folds before', 'count'],
  foldsAfter: ['Folds after', 'count'],
  specks: ['Specks cleared', 'count'],
  holesClosed: ['Holes closed', 'count'],
  longestRimMm: ['Longest rim', 'length'],
  bytes: ['File size', 'bytes'],
  deviationMaxMm: ['Off by at most', 'length'],
  deviation95Mm: ['95 % within', 'length'],
  edgeMm: ['Edge length', 'length'],
  movedMm: ['Moved up to', 'length'],
  gapMm: ['Gap', 'length'],
  acrossMm: ['Across', 'length'],
  covered: ['Rim edges closed', 'count'],
  rims: ['Rims', 'count'],
  rmsBefore: ['Rms before', 'length'],
  rms: ['Rms', 'length'],
  max: ['Most', 'length'],
  p95: ['95 % within', 'length'],
  mean: ['Mean', 'length'],
  tolerance: ['Tolerance', 'length'],
  within: ['Within tolerance', 'share'],
  kept: ['Skin kept', 'share'],
  fresh: ['New skin', 'share'],
  inside: ['Lay inside', 'share'],
  keptWithinMm: ['Off by at most', 'length'],
  value: ['Measured', 'measured'],
  x: ['Along x', 'length'],
  y: ['Along y', 'length'],
  z: ['Along z', 'length'],
  along: ['Along the direction', 'length'],
  across: ['Across it', 'length'],
  outOfParallel: ['Out of parallel', 'angle'],
  edges: ['Edges', 'count'],
  hollowVolume: ['Hollow', 'volume'],
  drains: ['Drain holes', 'count'],
  cutLength: ['Length of the cut', 'length'],
  capArea: ['Covered area', 'area'],
} as const satisfies Record<string, readonly [string, FactForm, string?]>

export type KnownFact = keyof typeof known

/** Lines for well-known facts by their keys, and own ones. */
export const shown = (...facts: (KnownFact | FactLine)[]): FactLine[] =>
  facts.map((f) => {
    if (typeof f !== 'string') return f
    const [label, as, unless] = known[f] as readonly [string, FactForm, string?]
    return { key: f, label, as, ...(unless ? { unless } : {}) }
  })

/** The same, each left out when it is zero. */
export const shownIfAny = (...facts: KnownFact[]): FactLine[] => shown(...facts).map((l) => ({ ...l, some: true }))

function write(v: unknown, as: FactForm, facts: Facts): string | null {
  if (v === undefined || v === null) return null
  if (as === 'size') return Array.isArray(v) ? sizeText(v as number[]) : null
  if (typeof v === 'string' || typeof v === 'boolean') return String(v)
  if (typeof v !== 'number') return null
  switch (as) {
    case 'signed-volume':
      return `${v < 0 ? '−' : '+'} ${volumeText(Math.abs(v))}`
    case 'volume':
      return volumeText(v)
    case 'measured':
      return facts.unit === '°' ? `${num(v, 3)}°` : `${num(v, 4)} mm`
    case 'share':
      return `${num(100 * v, 1)} %`
    case 'angle':
      return `${num(v, 2)}°`
    case 'area':
      return `${num(v, 2)} mm²`
    case 'bytes':
      return `${num(v / 1000, 1)} kB`
    case 'length':
      return `${num(v, 4)} mm`
    case 'count':
    case 'number':
      return Number.isInteger(v) ? many(v) : num(v, 3)
  }
}

/** Label and figure of the facts that are there, in the step's order; at most `most`. A dotted key reads inside a fact. */
export function factRows(lines: readonly FactLine[], facts: Facts, most = 8): [string, string][] {
  const at = (key: string): unknown =>
    key
      .split('.')
      .reduce<unknown>((v, k) => (v && typeof v === 'object' ? (v as Record<string, unknown>)[k] : undefined), facts)
  return lines
    .flatMap((l): [string, string][] => {
      if (l.unless && at(l.unless) !== undefined) return []
      if (l.some && !at(l.key)) return []
      const text = write(at(l.key), l.as, facts)
      return text === null ? [] : [[l.label, text]]
    })
    .slice(0, most)
}
