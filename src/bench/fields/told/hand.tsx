/** Regions on the bench, in colours by kind: a click picks one, a drag paints triangles over to it. */
import { useEffect, useMemo, useState } from 'react'
import { useStore } from 'zustand'
import { Color } from 'three'
import type { Vec3 } from '@/core/math/vec'
import { ColouredOverlay, Overlay } from '@/bench/draw/overlays'
import type { Hand } from '@/bench/hands/hand'
import { hoverHit } from '@/bench/hands/hover'
import { picking } from '@/bench/picking/client'
import { stage } from '@/bench/stage3d/view'
import { useJobBodies } from '@/bench/state/bodies'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { brush } from '../region/brush'
import { activeField } from '../slot'
import { kindColours, useTold } from './state'
import { tell } from './tell'

export const toldHand: Hand = {
  hint: () =>
    useTold.getState().paints
      ? 'Drag over triangles: they go to the picked region, or become one of their own'
      : 'Once the ghost shows the regions, a click picks one',
  move(p) {
    hoverHit(p)
    return true
  },
  down: (_, b) => {
    const { paints, found, picked } = useTold.getState()
    if (!paints || !found.length) return null
    // Whatever picks do elsewhere, paint adds.
    return brush(b, (paint) => tell({ at: picked.slice(0, 1).map((i) => found[i].on), paint: [paint] }), 'add')
  },
  async click(p, b) {
    const hit = await p.hit()
    if (!hit) return true
    const { hash, found, pick, paints } = useTold.getState()
    if (paints) return true
    if (!hash || hit.name !== b.tool?.values.body) {
      // What was told of another mesh does not hold for this one.
      const field = b.tool && activeField(b.tool)
      useTool.getState().pick({ body: hit.name, ...(field?.info.field === 'told' ? { [field.key]: undefined } : {}) })
      useBench.getState().set({ selected: hit.name })
      return true
    }
    const i = await picking().regionAt(
      hash,
      hit.triangle,
      found.map((r) => [...r.on]),
    )
    if (i >= 0) pick(i)
    return true
  },
  Over: ToldOver,
}

/** The regions' colours, and the picked ones. */
function ToldOver() {
  const tool = useTool((s) => s.tool)
  const field = tool && activeField(tool)
  const ghost = useStore(stage, (s) => s.ghostBodies)
  const name = String(tool?.values.body ?? '')
  const own = useJobBodies((list) => list.find((b) => b.name === name)?.hash)
  const { hash, found, picked } = useTold()
  // A body changed or chosen anew: what was found of the last one does not hold.
  useEffect(() => useTold.setState({ hash: null, found: [], picked: [], paints: false }), [own])
  useEffect(() => {
    const fresh = ghost?.[name]
    if (fresh) useTold.setState({ hash: fresh })
  }, [ghost, name])
  const painting = useTool((s) => s.painting)
  const [paint, setPaint] = useState<Float32Array | null>(null)
  useEffect(() => {
    if (!painting || !hash) return setPaint(null)
    let live = true
    void picking()
      .region(hash, [painting])
      .then((r) => live && setPaint(r.points))
    return () => {
      live = false
    }
  }, [painting, hash])
  if (field?.info.field !== 'told' || !hash || !found.length) return null
  return (
    <>
      <Kinds hash={hash} />
      <Picked hash={hash} places={picked.flatMap((i) => (found[i] ? [found[i].on] : []))} />
      {paint && <Overlay points={paint} colour="#8a2f63" opacity={0.6} />}
    </>
  )
}

function Kinds({ hash }: { hash: string }) {
  const [data, setData] = useState<Awaited<ReturnType<ReturnType<typeof picking>['kinds']>> | null>(null)
  useEffect(() => {
    let live = true
    picking()
      .kinds(hash)
      .then(
        (d) => live && setData(d),
        () => {},
      )
    return () => {
      live = false
    }
  }, [hash])
  return data && <Coloured key={hash} {...data} />
}

function Coloured({
  points,
  kind,
  shade,
  kinds,
}: {
  points: Float32Array
  kind: Uint8Array
  shade: Float32Array
  kinds: string[]
}) {
  const colours = useMemo(() => {
    const out = new Float32Array(points.length)
    const c = new Color()
    kind.forEach((k, t) => {
      const [r, g, b] = kindColours[kinds[k]] ?? kindColours.free
      const s = shade[t]
      c.setRGB(Math.min(1, r * s), Math.min(1, g * s), Math.min(1, b * s), 'srgb')
      for (let i = 0; i < 3; i++) out.set([c.r, c.g, c.b], 9 * t + 3 * i)
    })
    return out
  }, [points, kind, shade, kinds])
  return <ColouredOverlay points={points} colours={colours} lit />
}

function Picked({ hash, places }: { hash: string; places: readonly Vec3[] }) {
  const [points, setPoints] = useState<Float32Array | null>(null)
  const key = JSON.stringify(places)
  useEffect(() => {
    let live = true
    if (!places.length) return setPoints(null)
    picking()
      .regionsOn(hash, [...places])
      .then(
        (p) => live && setPoints(p),
        () => {},
      )
    return () => {
      live = false
    }
  }, [hash, key]) // eslint-disable-line react-hooks/exhaustive-deps -- the key stands for the places
  return points && <Overlay points={points} colour="#8a2f63" opacity={0.7} />
}
