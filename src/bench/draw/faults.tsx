/** Faults of the check-up: rims and edges as lines, others as triangles, and the one that is looked at with its words. */
import { useEffect, useState } from 'react'
import { num } from '@/core/base/say'
import type { Fault } from '@/core/mesh/check-up'
import { picking } from '@/bench/picking/client'
import { useJobBodies } from '@/bench/state/bodies'
import { useBench } from '@/bench/state/store'
import { Label } from './labels'
import { Overlay, OverlayLine } from './overlays'

const brick = '#c23b2e'

/** In the canvas. */
export function FaultLines({ faults }: { faults: readonly Fault[] }) {
  const of = useBench((s) => s.checkUpOf)
  const hash = useJobBodies((list) => list.find((b) => b.name === of)?.hash)
  const [points, setPoints] = useState<Float32Array | null>(null)
  useEffect(() => {
    const list = faults.flatMap((f) => f.triangles ?? [])
    setPoints(null)
    if (!hash || !list.length) return
    let live = true
    void picking()
      .triangles(hash, list)
      .then((p) => {
        if (live) setPoints(p)
      })
    return () => {
      live = false
    }
  }, [faults, hash])
  return (
    <>
      {faults.map((f, i) => f.line && <OverlayLine key={i} points={Float32Array.from(f.line)} colour={brick} />)}
      {points && <Overlay points={points} colour={brick} opacity={0.9} />}
    </>
  )
}

/** On the canvas. */
export function FaultLabel({ faults }: { faults: readonly Fault[] }) {
  const at = useBench((s) => s.fault)
  const f = at !== null ? faults[at] : undefined
  if (!f) return null
  return (
    <Label at={f.at} className="chip fault">
      {f.kind === 'hole' ? 'open rim' : f.kind} · <b className="figure">{num(f.length ?? f.reach, 1)} mm</b>
    </Label>
  )
}
