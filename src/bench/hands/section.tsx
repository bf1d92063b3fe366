/** The hand of the section view: lays a plane along a clicked face, and drags each plane by its arrow. */
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { num } from '@/core/base/say'
import { scale, type Vec3 } from '@/core/math/vec'
import { Label } from '@/bench/draw/labels'
import { benchBodies, useJobBodies } from '@/bench/state/bodies'
import type { BenchBody } from '@/bench/state/job'
import { useBench, type SectionPlane } from '@/bench/state/store'
import { reachAlong } from '@/bench/stage3d/scene-bounds'
import type { Hand } from './hand'
import { Handle, gripHandle, handleAt, type HandleSpec } from './handle'
import { hoverHit } from './hover'

const hot = createStore<{ key: string | null }>(() => ({ key: null }))

/** The middle of the bodies, moved on to the plane. */
function middleOn(plane: SectionPlane, bodies: readonly BenchBody[]): Vec3 {
  const middle = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((n) => {
    const [lo, hi] = reachAlong(bodies, n)
    return (lo + hi) / 2
  })
  const off = plane.offset - middle.reduce((s, v, k) => s + v * plane.normal[k], 0)
  return middle.map((v, k) => v + off * plane.normal[k]) as unknown as Vec3
}

const handlesOf = (sections: readonly SectionPlane[], bodies: readonly BenchBody[]): HandleSpec[] =>
  sections.map((s, i) => ({
    key: `section ${s.id}`,
    sort: 'arrow',
    label: sections.length > 1 ? `Section ${i + 1} at` : 'Section at',
    at: middleOn(s, bodies),
    axis: s.flip ? scale(s.normal, -1) : s.normal,
    factor: s.flip ? -1 : 1,
    value: s.offset,
    set: () => ({}),
  }))

export const sectionHand: Hand = {
  hint: () => (useBench.getState().sectionPick !== null ? 'Click a face: the section plane lies along it' : null),
  move(p, b) {
    const { sections, sectionPick } = useBench.getState()
    if (!sections.length) return false
    if (sectionPick !== null) {
      hoverHit(p)
      return true
    }
    const h = handleAt(p, handlesOf(sections, benchBodies()), b)
    if (hot.getState().key !== (h?.key ?? null)) {
      hot.setState({ key: h?.key ?? null })
      b.redraw()
    }
    return !!h
  },
  down(p, b) {
    const { sections, sectionPick } = useBench.getState()
    if (!sections.length || sectionPick !== null) return null
    const h = handleAt(p, handlesOf(sections, benchBodies()), b)
    if (!h) return null
    return gripHandle(h, p, b, (offset) => {
      const now = useBench.getState()
      now.set({ sections: now.sections.map((s) => (`section ${s.id}` === h.key ? { ...s, offset } : s)) })
    })
  },
  async click(p) {
    if (useBench.getState().sectionPick === null) return false
    const hit = await p.hit()
    const { sections, sectionPick, set } = useBench.getState()
    if (!hit || sectionPick === null) return true
    const { normal: n, point } = hit
    // Half a millimetre into the body: exactly on a face there is nothing to see.
    const offset = n[0] * point[0] + n[1] * point[1] + n[2] * point[2] - 0.5
    set({
      sectionPick: null,
      sections: sections.map((x) =>
        x.id === sectionPick ? { ...x, axis: 'face', normal: n, offset, flip: false } : x,
      ),
    })
    return true
  },
  leave: () => hot.setState({ key: null }),
  Over: function SectionOver() {
    const sections = useBench((s) => s.sections)
    const bodies = useJobBodies((list) => list)
    const key = useStore(hot, (s) => s.key)
    return handlesOf(sections, bodies).map((h) => <Handle key={h.key} handle={h} hot={key === h.key} />)
  },
  Flat: function SectionFlat() {
    const sections = useBench((s) => s.sections)
    const bodies = useJobBodies((list) => list)
    const key = useStore(hot, (s) => s.key)
    const h = handlesOf(sections, bodies).find((x) => x.key === key)
    return h ? (
      <Label at={h.at} className="chip picked beside">
        {h.label} <b className="figure">{num(h.value, 3)}</b> mm
      </Label>
    ) : null
  },
}
