'use client'
/** Panels for looking: section planes, two bodies against each other, and the legend of a deviation map. */
import { Plus, X } from 'lucide-react'
import { Bar, BarChart, ReferenceArea, ResponsiveContainer, XAxis } from 'recharts'
import { NumberField } from '@/bench/forms/number-field'
import type { BenchBody } from '@/bench/state/job'
import { useBench, type SectionPlane } from '@/bench/state/store'
import { num } from '@/core/base/say'
import type { Vec3 } from '@/core/math/vec'
import { colourAt, rampStops } from './ramp'

const axes: Record<'x' | 'y' | 'z', Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }

/** Extent of all bodies along a direction. */
function reachAlong(bodies: readonly BenchBody[], n: Vec3): [number, number] {
  let lo = Infinity,
    hi = -Infinity
  for (const b of bodies) {
    if (!b.summary) continue
    for (let c = 0; c < 8; c++) {
      const d = [0, 1, 2].reduce((s, k) => s + n[k] * (b.summary!.min[k] + (c & (1 << k) ? b.summary!.size[k] : 0)), 0)
      lo = Math.min(lo, d)
      hi = Math.max(hi, d)
    }
  }
  return lo < hi ? [lo, hi] : [-10, 10]
}

let lastId = 0
export function newSection(bodies: readonly BenchBody[]): SectionPlane {
  const [lo, hi] = reachAlong(bodies, axes.x)
  return { id: ++lastId, axis: 'x', normal: axes.x, offset: Number(((lo + hi) / 2).toFixed(3)), flip: false }
}

export function SectionPanel({ bodies }: { bodies: BenchBody[] }) {
  const { sections, sectionPick } = useBench()
  const { set } = useBench.getState()
  if (!sections.length) return null
  const change = (id: number, c: Partial<SectionPlane>) =>
    set({ sections: sections.map((s) => (s.id === id ? { ...s, ...c } : s)) })
  return (
    <section className="look-panel" aria-label="Section view" data-testid="section-panel">
      <div className="d-flex justify-content-between align-items-center">
        <h3>Section view</h3>
        <button
          type="button"
          className="icon-button"
          aria-label="Close the section view"
          onClick={() => set({ sections: [], sectionPick: null })}
        >
          <X size={15} />
        </button>
      </div>
      {sections.map((s, i) => {
        const [lo, hi] = reachAlong(bodies, s.normal)
        return (
          <div key={s.id} role="group" aria-label={`Section plane ${i + 1}`}>
            <div className="row-of">
              {(['x', 'y', 'z'] as const).map((a) => (
                <button
                  key={a}
                  type="button"
                  aria-pressed={s.axis === a}
                  onClick={() => {
                    const [l, h] = reachAlong(bodies, axes[a])
                    change(s.id, { axis: a, normal: axes[a], offset: (l + h) / 2 })
                  }}
                >
                  {a}
                </button>
              ))}
              <button
                type="button"
                aria-pressed={sectionPick === s.id || s.axis === 'face'}
                title="Click a face: the plane lies along it"
                onClick={() => set({ sectionPick: sectionPick === s.id ? null : s.id })}
              >
                {sectionPick === s.id ? 'click a face' : 'face'}
              </button>
              <button type="button" aria-pressed={s.flip} onClick={() => change(s.id, { flip: !s.flip })}>
                other side
              </button>
              {sections.length > 1 && (
                <button
                  type="button"
                  aria-label={`Remove section plane ${i + 1}`}
                  onClick={() => set({ sections: sections.filter((x) => x.id !== s.id) })}
                >
                  ×
                </button>
              )}
            </div>
            <div className="row-of">
              <input
                type="range"
                min={lo}
                max={hi}
                step={(hi - lo) / 500}
                value={s.offset}
                aria-label={`Place of section plane ${i + 1}`}
                onChange={(e) => change(s.id, { offset: Number(e.target.value) })}
              />
              <div style={{ width: 112 }}>
                <NumberField
                  hideLabel
                  label={`Section ${i + 1} at`}
                  value={Number(s.offset.toFixed(2))}
                  kind="length"
                  unit="mm"
                  onChange={(v) => change(s.id, { offset: v ?? 0 })}
                />
              </div>
            </div>
          </div>
        )
      })}
      {sections.length < 3 && (
        <button
          type="button"
          className="btn btn-link btn-sm p-0 mt-1 d-flex gap-1 align-items-center"
          onClick={() =>
            set({
              sections: [
                ...sections,
                {
                  ...newSection(bodies),
                  axis: 'y',
                  normal: axes.y,
                  offset: reachAlong(bodies, axes.y).reduce((a, b) => a + b) / 2,
                },
              ],
            })
          }
        >
          <Plus size={13} />
          another plane
        </button>
      )}
    </section>
  )
}

export function ComparePanel({ bodies }: { bodies: BenchBody[] }) {
  const { comparison: c, sections } = useBench()
  const { set } = useBench.getState()
  if (!c) return null
  const change = (x: Partial<typeof c>) => set({ comparison: { ...c, ...x } })
  return (
    <section
      className="look-panel"
      aria-label="Compare"
      data-testid="compare-panel"
      style={sections.length ? { top: 190 } : undefined}
    >
      <div className="d-flex justify-content-between align-items-center">
        <h3>Compare</h3>
        <button
          type="button"
          className="icon-button"
          aria-label="Close the comparison"
          onClick={() => set({ comparison: null })}
        >
          <X size={15} />
        </button>
      </div>
      <div className="row-of">
        {(['a', 'b'] as const).map((k) => (
          <select
            key={k}
            className="form-select form-select-sm"
            aria-label={k === 'a' ? 'First body' : 'Second body'}
            value={c[k]}
            onChange={(e) => change({ [k]: e.target.value })}
          >
            {bodies.map((b) => (
              <option key={b.name} value={b.name}>
                {b.name}
              </option>
            ))}
          </select>
        ))}
      </div>
      <div className="row-of">
        {(['side by side', 'overlaid', 'wiped'] as const).map((h) => (
          <button key={h} type="button" aria-pressed={c.how === h} onClick={() => change({ how: h })}>
            {h}
          </button>
        ))}
      </div>
      {c.how === 'wiped' && (
        <div className="row-of">
          <input
            type="range"
            min={0}
            max={1}
            step={0.005}
            value={c.at}
            aria-label="Wipe"
            onChange={(e) => change({ at: Number(e.target.value) })}
          />
        </div>
      )}
    </section>
  )
}

/** Shares of the area by distance, with the tolerance band. */
export function Histogram({
  histogram,
  tolerance,
}: {
  histogram: { from: number; to: number; bins: number[] }
  tolerance?: number
}) {
  const width = (histogram.to - histogram.from) / histogram.bins.length
  const data = histogram.bins.map((share, i) => ({
    at: Number((histogram.from + (i + 0.5) * width).toFixed(4)),
    share: 100 * share,
  }))
  return (
    <div
      style={{ height: 74 }}
      data-testid="histogram"
      role="img"
      aria-label={`Shares of the area from ${num(histogram.from, 3)} to ${num(histogram.to, 3)} mm`}
    >
      <ResponsiveContainer width="100%" height="100%">
        <BarChart data={data} margin={{ left: 2, right: 2, top: 4, bottom: 0 }} barCategoryGap={0}>
          {tolerance ? (
            <ReferenceArea
              x1={Math.max(data[0].at, -tolerance)}
              x2={Math.min(data[data.length - 1].at, tolerance)}
              fill="#d8d2c6"
              fillOpacity={0.6}
            />
          ) : null}
          <XAxis
            dataKey="at"
            type="number"
            domain={[histogram.from, histogram.to]}
            tick={{ fontSize: 10 }}
            tickCount={5}
            height={16}
            tickFormatter={(v: number) => num(v, 3)}
          />
          <Bar dataKey="share" fill="#5c6166" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  )
}

export function MapLegend() {
  const map = useBench((s) => s.map)
  const { set } = useBench.getState()
  if (!map) return null
  const stops = rampStops.map((_, i) => {
    const d = map.reach * ((2 * i) / (rampStops.length - 1) - 1)
    const c = colourAt(d, map.reach, map.tolerance)
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
    </section>
  )
}
