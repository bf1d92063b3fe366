'use client'
/** What the ghost found, as figures: flat facts of a step, named in plain words. */
import { many, num, sizeText, volumeText } from '@/core/base/say'
import type { Facts } from '@/core/step/step'

const names: Record<string, string> = {
  triangles: 'Triangles',
  vertices: 'Vertices',
  size: 'Size',
  volume: 'Volume',
  volumeChange: 'Volume',
  untouched: 'Untouched triangles',
  chordToleranceMm: 'Chord tolerance',
  pieces: 'Pieces',
  faces: 'Faces',
  factor: 'Factor',
  joined: 'Joined',
  removed: 'Removed',
  closed: 'Closed',
  left: 'Left',
  longestEdgeMm: 'Longest rim',
  equal: 'Holes changed',
  turned: 'Turned',
  moved: 'Moved',
  planeRms: 'Plane rms',
  crossingsBefore: 'Crossings before',
  crossingsAfter: 'Crossings after',
  foldsBefore: 'Folds before',
  foldsAfter: 'Folds after',
  specks: 'Specks cleared',
  holesClosed: 'Holes closed',
  longestRimMm: 'Longest rim',
  bytes: 'File size',
  deviationMaxMm: 'Off by at most',
  deviation95Mm: '95 % within',
  edgeMm: 'Edge length',
  movedMm: 'Moved up to',
  gapMm: 'Gap',
  acrossMm: 'Across',
  covered: 'Rim edges closed',
  rims: 'Rims',
  rmsBefore: 'Rms before',
  rms: 'Rms',
  max: 'Most',
  p95: '95 % within',
  mean: 'Mean',
  tolerance: 'Tolerance',
  within: 'Within tolerance',
  value: 'Measured',
  x: 'Along x',
  y: 'Along y',
  z: 'Along z',
  along: 'Along the direction',
  across: 'Across it',
  outOfParallel: 'Out of parallel',
  edges: 'Edges',
  hollowVolume: 'Hollow',
  drains: 'Drain holes',
  cutLength: 'Length of the cut',
  capArea: 'Covered area',
}
const mmFacts = new Set([
  'chordToleranceMm',
  'longestEdgeMm',
  'longestRimMm',
  'moved',
  'planeRms',
  'deviationMaxMm',
  'deviation95Mm',
  'edgeMm',
  'movedMm',
  'gapMm',
  'acrossMm',
  'rmsBefore',
  'rms',
  'max',
  'p95',
  'mean',
  'tolerance',
  'x',
  'y',
  'z',
  'along',
  'across',
  'cutLength',
])

export function factRows(facts: Facts): [string, string][] {
  const rows: [string, string][] = []
  for (const [key, label] of Object.entries(names)) {
    const v = facts[key]
    if (v === undefined || v === null) continue
    if (key === 'volume' && facts.volumeChange !== undefined) continue
    if (key === 'size' && Array.isArray(v)) rows.push([label, sizeText(v as number[])])
    else if (key === 'volumeChange')
      rows.push([label, `${Number(v) < 0 ? '−' : '+'} ${volumeText(Math.abs(Number(v)))}`])
    else if (key === 'volume') rows.push([label, volumeText(Number(v))])
    else if (key === 'value')
      rows.push([label, facts.unit === '°' ? `${num(Number(v), 3)}°` : `${num(Number(v), 4)} mm`])
    else if (key === 'within') rows.push([label, `${num(100 * Number(v), 1)} %`])
    else if (key === 'outOfParallel') rows.push([label, `${num(Number(v), 2)}°`])
    else if (key === 'hollowVolume') rows.push([label, volumeText(Number(v))])
    else if (key === 'capArea') rows.push([label, `${num(Number(v), 2)} mm²`])
    else if (key === 'bytes') rows.push([label, `${num(Number(v) / 1000, 1)} kB`])
    else if (mmFacts.has(key)) rows.push([label, `${num(Number(v), 4)} mm`])
    else if (typeof v === 'number') rows.push([label, Number.isInteger(v) ? many(v) : num(v, 3)])
    else if (typeof v === 'string' || typeof v === 'boolean') rows.push([label, String(v)])
  }
  const found = facts.found as { rms?: number; diameter?: number; depth?: number; through?: boolean } | undefined
  if (found) rows.unshift(['Axis found, rms', `${num(found.rms ?? 0, 4)} mm`])
  return rows.slice(0, 8)
}

export function GhostFigures({ facts }: { facts: Facts }) {
  const rows = factRows(facts)
  if (!rows.length) return null
  return (
    <dl className="figures" data-testid="ghost-figures">
      {rows.map(([k, v]) => [<dt key={k}>{k}</dt>, <dd key={`${k}v`}>{v}</dd>])}
    </dl>
  )
}
