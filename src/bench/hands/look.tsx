/** The hand when nothing else wants the pointer: tells what is under it, and selects. */
import { useEffect, useState } from 'react'
import { num } from '@/core/base/say'
import { partWords } from '@/core/kinds/pointed-part'
import { Overlay, OverlaySegments } from '@/bench/draw/overlays'
import { picking } from '@/bench/picking/client'
import { useJobBodies } from '@/bench/state/bodies'
import { movePointer } from '@/bench/state/pointer'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import type { Hand, Pointer } from './hand'
import { latest, showMoment } from './moment'

const hasParts = (b: { facts?: { can: readonly string[] } }) => !!b.facts?.can.includes('parts')

const hover = latest(async ({ p, parts }: { p: Pointer; parts: boolean }) => {
  const hit = await p.hit()
  const found = parts ? await p.part('any') : null
  const body = found?.name ?? hit?.name ?? null
  movePointer({
    at: hit?.point ?? found?.at ?? null,
    body,
    words: found ? partWords(found.sort, found.part, (v) => num(v)) : '',
  })
  showMoment(found?.sort === 'edge' ? { lines: found.lines } : null)
})

export const lookHand: Hand = {
  hint: (b) => (b.tool ? null : 'Click a body to pick it; drag to look around'),
  move(p, b) {
    hover({ p, parts: b.bodies.some(hasParts) })
    return true
  },
  leave: () => showMoment(null),
  async click(p, b) {
    if (b.tool) {
      const hit = await p.hit()
      if (hit) useBench.getState().set({ selected: hit.name, part: null })
      return true
    }
    const found = b.bodies.some(hasParts) ? await p.part('any') : null
    const name = found?.name ?? (await p.hit())?.name ?? null
    useBench.getState().set({
      selected: name,
      part: found && found.part.index >= 0 ? { sort: found.sort, index: found.part.index } : null,
    })
    return true
  },
  Over: LookedAt,
}

/** The face or edge that is looked at. */
function LookedAt() {
  const part = useBench((s) => s.part)
  const selected = useBench((s) => s.selected)
  const tool = useTool((s) => s.tool !== null)
  const hash = useJobBodies((list) => list.find((b) => b.name === selected)?.hash)
  const [drawn, setDrawn] = useState<{ triangles: Float32Array; lines: Float32Array } | null>(null)
  useEffect(() => {
    setDrawn(null)
    if (!part || !hash || tool) return
    let live = true
    picking()
      .drawPart(hash, part.sort, part.index)
      .then(
        (d) => live && setDrawn(d),
        () => {},
      )
    return () => {
      live = false
    }
  }, [part, hash, tool])
  if (!drawn) return null
  return (
    <>
      {drawn.triangles.length > 0 && <Overlay points={drawn.triangles} colour="#8a2f63" opacity={0.35} />}
      {drawn.lines.length > 0 && <OverlaySegments points={drawn.lines} colour="#8a2f63" />}
    </>
  )
}
