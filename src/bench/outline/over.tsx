/** Among the bodies the drawing draws nothing: it lies over the picture. Here the view is turned square to its plane and followed. */
import { useFrame, useThree } from '@react-three/fiber'
import { useEffect } from 'react'
import { Matrix4, Vector3, type PerspectiveCamera } from 'three'
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { toSpace, type DrawingPlane, type Place } from '@/core/outline/drawing'
import { stage } from '@/bench/stage3d/view'
import { useTool } from '@/bench/state/tool'
import { drawingNow, planeOfValues, referencesNow, useOutline } from './state'

interface Lens {
  /** From the model to pixels of the canvas, column by column. */
  readonly matrix: readonly number[]
  readonly width: number
  readonly height: number
}

const lens = createStore<{ now: Lens | null }>(() => ({ now: null }))
export const useLens = (): Lens | null => useStore(lens, (s) => s.now)

/** Pixels of the canvas for places of a plane. */
export function projector(l: Lens, plane: DrawingPlane): (p: Place) => Place {
  const m = l.matrix
  return (p) => {
    const [x, y, z] = toSpace(plane, p)
    const w = m[3] * x + m[7] * y + m[11] * z + m[15]
    return [
      (((m[0] * x + m[4] * y + m[8] * z + m[12]) / w + 1) / 2) * l.width,
      ((1 - (m[1] * x + m[5] * y + m[9] * z + m[13]) / w) / 2) * l.height,
    ]
  }
}

const product = new Matrix4()

export function OutlineOver() {
  const { invalidate } = useThree()
  useFrame(({ camera, size }) => {
    camera.updateMatrixWorld()
    product.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse)
    const old = lens.getState().now
    if (
      old &&
      old.width === size.width &&
      old.height === size.height &&
      old.matrix.every((v, i) => v === product.elements[i])
    )
      return
    lens.setState({ now: { matrix: [...product.elements], width: size.width, height: size.height } })
  })
  useEffect(() => {
    invalidate()
    return () => lens.setState({ now: null })
  }, [invalidate])
  const ground = useOutline((s) => s.ground)
  const at = useTool((s) => s.tool?.values.at)
  const normal = useTool((s) => s.tool?.values.normal)
  const x = useTool((s) => s.tool?.values.x)
  const plane = ground?.plane ?? planeOfValues({ at, normal, x })
  // By what it says: it is made anew at each change of the tool.
  const key = JSON.stringify(plane)
  useEffect(() => lookSquare(JSON.parse(key) as DrawingPlane), [key])
  return null
}

/** Turns the view square to a plane, far enough to see the drawing, or what it is drawn on. */
export function lookSquare(plane: DrawingPlane): void {
  const { root, controls, shown } = stage.getState()
  if (!root || !controls) return
  const camera = root.camera as PerspectiveCamera
  const d = drawingNow()
  const places = [...d.points, ...referencesNow().flat()]
  const points = places.map((p) => new Vector3(...toSpace(plane, p)))
  if (points.length < 2)
    for (const b of shown)
      if (b.facts)
        points.push(
          new Vector3(...b.facts.min),
          new Vector3(
            b.facts.min[0] + b.facts.size[0],
            b.facts.min[1] + b.facts.size[1],
            b.facts.min[2] + b.facts.size[2],
          ),
        )
  const n = new Vector3(...plane.normal)
  const centre = new Vector3(...plane.at)
  let reach = 40
  if (points.length > 1) {
    const min = points[0].clone(),
      max = points[0].clone()
    for (const p of points) {
      min.min(p)
      max.max(p)
    }
    centre.copy(min).add(max).multiplyScalar(0.5)
    reach = Math.max(2, min.distanceTo(max) / 2)
  }
  // The middle of what is seen, on the plane.
  const off = centre.clone().sub(new Vector3(...plane.at))
  centre.addScaledVector(n, -off.dot(n))
  const half = Math.atan(Math.tan((camera.fov * Math.PI) / 360) * Math.min(1, root.size.width / root.size.height))
  const away = (reach * 1.25) / Math.sin(half)
  camera.position.copy(centre).addScaledVector(n, away)
  // Straight down the view has no way up of its own: it leans a little toward the second direction.
  if (Math.abs(n.z) > 0.999) camera.position.y -= away * 0.0005
  camera.near = Math.max(0.01, away / 200)
  camera.far = away * 12 + 2000
  camera.updateProjectionMatrix()
  controls.target.copy(centre)
  controls.update()
  root.invalidate()
}
