/** The canvas as hands see it: camera, sizes, what can be picked, and pointers made of events. */
import type { RootState } from '@react-three/fiber'
import { Matrix4, type PerspectiveCamera, Plane, Raycaster, Vector2, Vector3 } from 'three'
import type { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import type { Vec3 } from '@/core/math/vec'
import { dot, sub } from '@/core/math/vec'
import type { BenchView, Pointer, Ray, Screen } from '@/bench/hands/hand'
import { picking } from '@/bench/picking/client'
import { activeField } from '@/bench/fields/slot'
import { benchBodies } from '@/bench/state/bodies'
import type { BenchBody } from '@/bench/state/job'
import { useBench, type ViewName } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'

interface StageState {
  root: RootState | null
  controls: OrbitControls | null
  /** The named view in which the camera stands now. */
  stands: ViewName | null
  /** How the canvas before this one was looked at; taken over by the next. */
  pose: { position: Vec3; target: Vec3 } | null
  /** Where the canvas stands in the window. */
  box: DOMRect | null
  /** Bodies that are shown, as they can be picked. */
  shown: readonly BenchBody[]
  /** A ghost of the tool in hand is drawn. */
  ghosted: boolean
  /** The ghost's bodies by name. */
  ghostBodies: Readonly<Record<string, string | null>> | null
}

export const stage = createStore<StageState>(() => ({
  root: null,
  controls: null,
  stands: null,
  pose: null,
  box: null,
  shown: [],
  ghosted: false,
  ghostBodies: null,
}))
export const useCanvasBox = (): DOMRect | null => useStore(stage, (s) => s.box)

const boxOf = (root: RootState) => root.gl.domElement.getBoundingClientRect()

function rayAt(root: RootState, [x, y]: Screen): Ray {
  const box = boxOf(root)
  const caster = new Raycaster()
  caster.setFromCamera(
    new Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2),
    root.camera,
  )
  const { origin: o, direction: d } = caster.ray
  return { origin: [o.x, o.y, o.z], direction: [d.x, d.y, d.z] }
}

/** How many mm a pixel is at a place. */
export function pixelAt(camera: PerspectiveCamera, height: number, at: Vec3): number {
  return (2 * Math.tan((camera.fov * Math.PI) / 360) * camera.position.distanceTo(new Vector3(...at))) / height
}

/** Pixels within which a corner or edge is meant. */
const snapPixels = 8

/** What hands see, as it is now; null before there is a canvas. */
export function benchView(): BenchView | null {
  const { root, controls, shown } = stage.getState()
  if (!root) return null
  const camera = root.camera as PerspectiveCamera
  const { tool } = useTool.getState()
  const { selected } = useBench.getState()
  const all = benchBodies()
  return {
    tool,
    field: activeField(tool),
    bodies: shown,
    target: all.find((b) => b.name === tool?.values.body) ?? all.find((b) => b.name === selected) ?? shown[0],
    camera,
    toScreen(p) {
      camera.updateMatrixWorld()
      const v = new Vector3(...p).project(camera)
      const box = boxOf(root)
      return [box.left + ((v.x + 1) / 2) * box.width, box.top + ((1 - v.y) / 2) * box.height]
    },
    toScreens(p) {
      camera.updateMatrixWorld()
      const m = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).elements
      const box = boxOf(root)
      const out = new Float64Array((p.length / 3) * 2)
      for (let i = 0, o = 0; i < p.length; i += 3, o += 2) {
        const w = m[3] * p[i] + m[7] * p[i + 1] + m[11] * p[i + 2] + m[15]
        out[o] = box.left + (((m[0] * p[i] + m[4] * p[i + 1] + m[8] * p[i + 2] + m[12]) / w + 1) / 2) * box.width
        out[o + 1] = box.top + ((1 - (m[1] * p[i] + m[5] * p[i + 1] + m[9] * p[i + 2] + m[13]) / w) / 2) * box.height
      }
      return out
    },
    toRay: (s) => rayAt(root, s),
    pixel: (at) => pixelAt(camera, root.size.height, at),
    redraw: () => {
      controls?.update()
      root.invalidate()
    },
  }
}

/** The pointer of an event. Questions about bodies are asked once, however many hands want to know. */
export function pointerOf(e: Pick<PointerEvent, 'clientX' | 'clientY' | 'shiftKey' | 'altKey'>): Pointer | null {
  const { root, controls, shown } = stage.getState()
  if (!root) return null
  const screen: Screen = [e.clientX, e.clientY]
  const ray = rayAt(root, screen)
  const bodies = shown.map(({ name, hash }) => ({ name, hash }))
  const target = controls?.target
  const reach =
    snapPixels *
    pixelAt(root.camera as PerspectiveCamera, root.size.height, target ? [target.x, target.y, target.z] : [0, 0, 0])
  const once = <T>(ask: () => Promise<T>) => {
    let asked: Promise<T> | null = null
    return () => (asked ??= ask())
  }
  return {
    screen,
    ray,
    shift: e.shiftKey,
    alt: e.altKey,
    hit: once(() => picking().pick(bodies, ray.origin, ray.direction)),
    snap: once(() => picking().touch(bodies, ray.origin, ray.direction, reach)),
    area: once(() => picking().area(bodies, ray.origin, ray.direction)),
    bore: once(() => picking().bore(bodies, ray.origin, ray.direction)),
    part: (want) => picking().part(bodies, ray.origin, ray.direction, 0.75 * reach, want),
    on(point, normal) {
      const p = new Plane().setFromNormalAndCoplanarPoint(new Vector3(...normal).normalize(), new Vector3(...point))
      const slope = dot(ray.direction, normal)
      if (Math.abs(slope) < 1e-6) return null
      const t = -p.distanceToPoint(new Vector3(...ray.origin)) / p.normal.dot(new Vector3(...ray.direction))
      return [0, 1, 2].map((k) => ray.origin[k] + t * ray.direction[k]) as unknown as Vec3
    },
    along(point, direction) {
      // Nearest points of two lines (Sunday 2021, "Practical geometry algorithms", distance between lines).
      const w = sub(point, ray.origin)
      const b = dot(direction, ray.direction)
      const det = dot(direction, direction) - b * b
      if (det < 1e-4) return null
      return (b * dot(ray.direction, w) - dot(direction, w)) / det
    },
  }
}
