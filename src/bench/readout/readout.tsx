'use client'
/** The facts of the picked body. */
import { unitsInMm } from '@/core/formats/units'
import { many, num, sizeText, volumeText } from '@/core/base/say'
import type { BenchBody } from '@/bench/state/job'

/** Density of PETG filament, g/cm³ (common practice, no source). */
const petg = 1.27

export function Readout({ body }: { body: BenchBody | undefined }) {
  const s = body?.summary
  if (!body || !s) return null
  const rows: [string, string][] = [['Size', sizeText(s.size)]]
  if (s.exact) {
    rows.push(['Faces', many(s.exact.faces)])
    const kinds = Object.entries(s.exact.faceKinds)
      .filter(([, n]) => n)
      .map(([k, n]) => `${n} ${k}`)
    rows.push(['Kinds', kinds.join(', ')])
  } else rows.push(['Triangles', many(s.triangles)], ['Vertices', many(s.vertices ?? 0)])
  if (s.pieces > 1) rows.push(['Pieces', many(s.pieces)])
  if (!s.closed) rows.push(['Holes', many(s.holes)], ['Open edges', many(s.openEdges)])
  if (s.closed) rows.push(['Volume', volumeText(s.volume)], ['In PETG', `${num((s.volume / 1000) * petg, 1)} g`])
  rows.push(['Area', `${num(s.area / 100, 1)} cm²`])
  return (
    <section aria-label="Readout" data-testid="readout" className="mb-3">
      <div className="panel-head">
        <h2>Readout</h2>
        <span className="small soft">{body.name}</span>
      </div>
      <dl className="figures readout">{rows.map(([k, v]) => [<dt key={k}>{k}</dt>, <dd key={`${k}-v`}>{v}</dd>])}</dl>
      <details className="small mt-1">
        <summary className="soft">Size in other units</summary>
        <dl className="figures readout mt-1">
          {(['cm', 'inch', 'm'] as const).map((u) => [
            <dt key={u}>{u}</dt>,
            <dd key={`${u}-v`}>{s.size.map((v) => num(v / unitsInMm[u], u === 'm' ? 4 : 3)).join(' × ')}</dd>,
          ])}
        </dl>
      </details>
    </section>
  )
}
