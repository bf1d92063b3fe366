/** A handle: an arrow or a ring that drags the number it stands for. */
import { useFrame } from '@react-three/fiber'
import { useMemo, useRef } from 'react'
import { Quaternion, Vector3, type Group, type PerspectiveCamera } from 'three'
import { createStore } from 'zustand/vanilla'
import { add, cross, dot, frame, scale, sub, type Vec3 } from '@/core/math/vec'
import { pixelAt } from '@/bench/stage3d/view'
import type { Values } from '@/bench/state/tool'
import type { BenchView, Grip, Pointer } from './hand'
import { roundAngle, roundLength } from './round'
import { toSegment } from './to-segment'

export interface HandleSpec {
  readonly key: string
  readonly sort: 'arrow' | 'ring'
  /** What the number is called in the card. */
  readonly label: string
  /** Foot of the arrow, centre of the ring. */
  readonly at: Vec3
  /** Way of the arrow, axis of the ring (unit). */
  readonly axis: Vec3
  readonly value: number
  /** How much the number grows for each mm along the arrow; 1 when left out. */
  readonly factor?: number
  readonly min?: number
  readonly max?: number
  set(value: number): Values
}

const arrowPixels = 46,
  ringPixels = 58,
  reachPixels = 10
const colours = { rest: '#0e5f55', hot: '#8a2f63' }

/** The handle under the pointer, and the one that is dragged. */
export const handleState = createStore<{ hot: string | null; held: string | null }>(() => ({ hot: null, held: null }))

/** Pixels between the pointer and a handle. */
function away(p: Pointer, h: HandleSpec, b: BenchView): number {
  const pixel = b.pixel(h.at)
  if (h.sort === 'arrow')
    return toSegment(p.screen, b.toScreen(h.at), b.toScreen(add(h.at, scale(h.axis, arrowPixels * pixel))))
  const [x, y] = frame(h.axis)
  const point = (i: number) => {
    const a = (i / 24) * Math.PI
    return b.toScreen(
      add(h.at, add(scale(x, ringPixels * pixel * Math.cos(a)), scale(y, ringPixels * pixel * Math.sin(a)))),
    )
  }
  let least = Infinity
  for (let i = 0; i < 48; i++) least = Math.min(least, toSegment(p.screen, point(i), point(i + 1)))
  return least
}

/** The handle under the pointer. */
export function handleAt(p: Pointer, handles: readonly HandleSpec[], b: BenchView): HandleSpec | null {
  let best: HandleSpec | null = null,
    least = reachPixels
  for (const h of handles) {
    const d = away(p, h, b)
    if (d < least) {
      least = d
      best = h
    }
  }
  return best
}

/** Drags the number of a handle; `change` gets it each time, and whether it is the first. */
export function gripHandle(
  h: HandleSpec,
  start: Pointer,
  b: BenchView,
  change: (v: number, first: boolean) => void,
): Grip {
  let first = true
  let last = h.value
  const give = (v: number) => {
    const held = Math.min(h.max ?? Infinity, Math.max(h.min ?? -Infinity, v))
    if (held === last) return
    last = held
    change(held, first)
    first = false
  }
  const from = start.along(h.at, h.axis)
  const [x, y] = frame(h.axis)
  const turnOf = (p: Pointer): number | null => {
    const q = p.on(h.at, h.axis)
    if (!q) return null
    const d = sub(q, h.at)
    return (Math.atan2(dot(d, y), dot(d, x)) * 180) / Math.PI
  }
  // The frame is right-handed about the axis or not; angles grow counter-clockwise about it.
  const hand = dot(cross(x, y), h.axis) < 0 ? -1 : 1
  let turned = 0
  let before = turnOf(start)
  return {
    move(p) {
      if (h.sort === 'arrow') {
        const to = p.along(h.at, h.axis)
        if (from === null || to === null) return
        give(roundLength(h.value + (h.factor ?? 1) * (to - from), b.pixel(h.at), p))
      } else {
        const now = turnOf(p)
        if (now === null || before === null) return
        // Past half a turn the way round is kept.
        turned += hand * (((now - before + 540) % 360) - 180)
        before = now
        give(roundAngle(h.value + turned, p))
      }
    },
    up: () => handleState.setState({ held: null }),
    cancel() {
      if (!first) change(h.value, false)
      handleState.setState({ held: null })
    },
  }
}

/** One handle, always of the same size on the screen, and seen through everything. */
export function Handle({ handle, hot }: { handle: HandleSpec; hot: boolean }) {
  const group = useRef<Group>(null)
  const turn = useMemo(
    () => new Quaternion().setFromUnitVectors(new Vector3(0, 0, 1), new Vector3(...handle.axis)),
    [handle.axis],
  )
  useFrame(({ camera, size }) => {
    group.current?.scale.setScalar(pixelAt(camera as PerspectiveCamera, size.height, handle.at))
  })
  const colour = hot ? colours.hot : colours.rest
  const look = <meshBasicMaterial color={colour} depthTest={false} transparent opacity={0.95} />
  return (
    <group ref={group} position={[...handle.at]} quaternion={turn}>
      {handle.sort === 'arrow' ? (
        <>
          <mesh position={[0, 0, arrowPixels / 2 - 4]} rotation={[Math.PI / 2, 0, 0]} renderOrder={5}>
            <cylinderGeometry args={[1.6, 1.6, arrowPixels - 8, 8]} />
            {look}
          </mesh>
          <mesh position={[0, 0, arrowPixels - 6]} rotation={[Math.PI / 2, 0, 0]} renderOrder={5}>
            <coneGeometry args={[6, 15, 16]} />
            {look}
          </mesh>
        </>
      ) : (
        <mesh renderOrder={5}>
          <torusGeometry args={[ringPixels, hot ? 2.4 : 1.7, 8, 64]} />
          {look}
        </mesh>
      )}
    </group>
  )
}
