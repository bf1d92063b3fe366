/** The legend of a deviation map. */
import { X } from 'lucide-react'
import { num } from '@/core/base/say'
import { colourAt, rampStops } from '@/bench/draw/ramp'
import { useBench } from '@/bench/state/store'

export function MapLegend() {
  const map = useBench((s) => s.map)
  const set = useBench((s) => s.set)
  if (!map) return null
  const stops = rampStops.map((_, i) => {
    const d = map.reach * ((2 * i) / (rampStops.length - 1) - 1)
    const c = colourAt(d, map.reach, map.tolerance, map.bound)
    return `rgb(${c.map((v) => Math.round(255 * v)).join(' ')}) ${(100 * i) / (rampStops.length - 1)}%`
  })
  return (
    <section className="map-legend" aria-label="Deviation map" data-testid="map-legend">
      <div className="d-flex justify-content-between align-items-center mb-1">
        <span>
          {map.name} against {map.againstName}
        </span>
        <button type="button" className="icon-button" aria-label="Close the map" onClick={() => set({ map: null })}>
          <X size={14} />
        </button>
      </div>
      <div className="bar" style={{ background: `linear-gradient(90deg, ${stops.join(', ')})` }} />
      <div className="ticks">
        <span>−{num(map.reach, 3)}</span>
        <span>±{num(map.tolerance, 3)} even</span>
        <span>+{num(map.reach, 3)} mm</span>
      </div>
      {map.bound !== undefined && <div className="small">brick: beyond {num(map.bound, 4)} mm, out of tolerance</div>}
    </section>
  )
}
