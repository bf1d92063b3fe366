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

const letters = ['x', 'y', 'z'] as const

/** A plane across the middle of the bodies. */
const acrossMiddle = (bodies: readonly BenchBody[], axis: 'x' | 'y' | 'z'): Partial<SectionPlane> => {
  const [lo, hi] = reachAlong(bodies, axes[axis])
  return { axis, normal: axes[axis], offset: (lo + hi) / 2 }
}

export function SectionPanel({ bodies }: { bodies: BenchBody[] }) {
  const sections = useBench((s) => s.sections)
  const set = useBench((s) => s.set)
  if (!sections.length) return null
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
      {sections.map((s, i) => (
        <PlaneRow key={s.id} plane={s} index={i} bodies={bodies} />
      ))}
      {sections.length < 3 && (
        <button
          type="button"
          className="btn btn-link btn-sm p-0 mt-1 d-flex gap-1 align-items-center"
          onClick={() => set({ sections: [...sections, { ...newSection(bodies), ...acrossMiddle(bodies, 'y') }] })}
        >
          <Plus size={13} />
          another plane
        </button>
      )}
    </section>
  )
}

/** One plane: its axis or face, which side is cut off, and where it lies. */
function PlaneRow({ plane: s, index, bodies }: { plane: SectionPlane; index: number; bodies: BenchBody[] }) {
  const sections = useBench((b) => b.sections)
  const sectionPick = useBench((b) => b.sectionPick)
  const set = useBench((b) => b.set)
  const change = (c: Partial<SectionPlane>) =>
    set({ sections: sections.map((x) => (x.id === s.id ? { ...x, ...c } : x)) })
  const [lo, hi] = reachAlong(bodies, s.normal)
  return (
    <div role="group" aria-label={`Section plane ${index + 1}`}>
      <div className="row-of">
        {letters.map((a) => (
          <button key={a} type="button" aria-pressed={s.axis === a} onClick={() => change(acrossMiddle(bodies, a))}>
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
        <button type="button" aria-pressed={s.flip} onClick={() => change({ flip: !s.flip })}>
          other side
        </button>
        {sections.length > 1 && (
          <button
            type="button"
            aria-label={`Remove section plane ${index + 1}`}
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
          aria-label={`Place of section plane ${index + 1}`}
          onChange={(e) => change({ offset: Number(e.target.value) })}
        />
        <div style={{ width: 112 }}>
          <NumberField
            hideLabel
            label={`Section ${index + 1} at`}
            value={Number(s.offset.toFixed(2))}
            kind="length"
            unit="mm"
            onChange={(v) => change({ offset: v ?? 0 })}
          />
        </div>
      </div>
    </div>
  )
}
