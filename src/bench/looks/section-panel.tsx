/** The planes of the section view. */
import { Plus, X } from 'lucide-react'
import type { Vec3 } from '@/core/math/vec'
import { NumberField } from '@/bench/forms/number-field'
import { reachAlong } from '@/bench/stage3d/scene-bounds'
import type { BenchBody } from '@/bench/state/job'
import { useBench, type SectionPlane } from '@/bench/state/store'

const axes: Record<'x' | 'y' | 'z', Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }

let lastId = 0
export function newSection(bodies: readonly BenchBody[]): SectionPlane {
  const [lo, hi] = reachAlong(bodies, axes.x)
  return { id: ++lastId, axis: 'x', normal: axes.x, offset: Number(((lo + hi) / 2).toFixed(3)), flip: false }
}

export function SectionPanel({ bodies }: { bodies: BenchBody[] }) {
  const sections = useBench((s) => s.sections)
  const sectionPick = useBench((s) => s.sectionPick)
  const set = useBench((s) => s.set)
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
