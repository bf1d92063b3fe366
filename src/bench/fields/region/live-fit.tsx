/** The shape that fits the picked triangles, asked for at every change of the region or of what the settings ask, and its residuals. */
import { useEffect, useMemo, useState } from 'react'
import { Color } from 'three'
import type { Region } from '@/core/find/region'
import { ColouredOverlay } from '@/bench/draw/overlays'
import { colourAt } from '@/bench/draw/ramp'
import { latest } from '@/bench/hands/moment'
import { picking } from '@/bench/picking/client'
import type { LiveFit } from '@/bench/picking/worker'
import { useJobBodies } from '@/bench/state/bodies'
import { useTool, withDefaults, type ToolInHand } from '@/bench/state/tool'

interface Asked {
  hash: string
  region: Region
  kind: string
  set: Record<string, unknown>
  bench: Record<string, string>
}

/** Keeps `fit` of the tool's state true to the region; `tool` null: nothing is fitted. */
export function useLiveFit(tool: ToolInHand | null, hash: string | undefined, region: Region | undefined): void {
  const bodies = useJobBodies((list) => list)
  const [ask] = useState(() =>
    latest(async ({ hash, region, kind, set, bench }: Asked) => {
      const fit = await picking().fit(hash, region, kind, set, bench)
      // The region may be gone by now.
      if (useTool.getState().tool?.kind === kind) useTool.setState({ fit })
    }),
  )
  const set = tool ? JSON.stringify(withDefaults(tool)) : ''
  useEffect(() => {
    if (!tool || !hash || !region?.length) return useTool.setState({ fit: null })
    ask({
      hash,
      region,
      kind: tool.kind,
      set: JSON.parse(set) as Record<string, unknown>,
      bench: Object.fromEntries(bodies.map((b) => [b.name, b.hash])),
    })
  }, [set, hash, region]) // eslint-disable-line react-hooks/exhaustive-deps -- the settings stand for the tool
  // While another field takes the picks nothing is fitted anew: figures of before would not hold.
  useEffect(() => () => useTool.setState({ fit: null }), [])
}

/** Within this share of the root mean square a place counts as on the shape. */
export const evenShare = 0.5
/** Colours are full at so many times the root mean square. */
export const fullTimes = 3

/** Less than this is rounding of the file, not noise of the wall, mm: it gets no colour. */
const leastRms = 5e-4

/** Bounds of the colours, mm. */
export function boundsOf(fit: Pick<LiveFit, 'shapes'>): { even: number; full: number } {
  const rms = Math.max(leastRms, ...fit.shapes.map((s) => s.rms))
  return { even: evenShare * rms, full: fullTimes * rms }
}

/** The picked triangles coloured by how far they lie off their shape. */
export function FitOver({ fit }: { fit: LiveFit }) {
  const colours = useMemo(() => {
    const { even, full } = boundsOf(fit)
    const out = new Float32Array(fit.points.length)
    const c = new Color()
    fit.off.forEach((off, i) => {
      c.setRGB(...colourAt(off, full, even), 'srgb')
      out.set([c.r, c.g, c.b], 3 * i)
    })
    return out
  }, [fit])
  return <ColouredOverlay points={fit.points} colours={colours} />
}
