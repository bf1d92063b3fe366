'use client'
/** Lays what a mending step moved, made up and took away over the body it gave. */
import { keptColours, useKept, type Changed } from '@/bench/looks/kept-map'
import { useBench } from '@/bench/state/store'
import { Overlay } from './overlays'

export function KeptView() {
  const map = useBench((s) => s.kept)
  const { data } = useKept(map)
  if (!data) return null
  return (Object.keys(keptColours) as Changed[])
    .filter((k) => data[k].length)
    .map((k) => <Overlay key={k} points={data[k]} colour={keptColours[k]} opacity={k === 'inside' ? 0.35 : 0.8} />)
}
