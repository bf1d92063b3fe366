'use client'
/** Looking around: left-drag orbits, middle- and right-drag pan, the wheel zooms at the cursor; the same on keys. */
import { useThree } from '@react-three/fiber'
import { useEffect, useMemo, useRef } from 'react'
import { MOUSE, type Camera, type PerspectiveCamera, Vector3 } from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { outlineKind } from '@/bench/outline/state'
import { useBench, type ViewAsked, type ViewName } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import type { SceneBounds } from './scene-bounds'
import { stage } from './view'

const directions: Record<Exclude<ViewName, 'Fit'>, [number, number, number]> = {
  Front: [0, -1, 0],
  Back: [0, 1, 0],
  Left: [-1, 0, 0],
  Right: [1, 0, 0],
  Top: [0, -0.0005, 1],
  Under: [0, -0.0005, -1],
  Corner: [0.62, -1, 0.72],
}

/** The named view in which the camera stands, or null. */
function standing(camera: Camera, controls: OrbitControls): ViewName | null {
  const away = camera.position.clone().sub(controls.target).normalize()
  for (const [name, d] of Object.entries(directions))
    if (away.distanceTo(new Vector3(...d).normalize()) < 1e-3) return name as ViewName
  return null
}

/** Looks at all there is, or at a place that is asked for, from the side that is asked for. */
function lookAt(cam: PerspectiveCamera, controls: OrbitControls, bounds: SceneBounds, view: ViewAsked, wide: number) {
  const target = new Vector3(...(view.at ?? bounds.centre))
  const reach = view.at ? Math.max(view.reach ?? 10, bounds.radius * 0.06) * 1.8 : bounds.radius
  const half = Math.atan(Math.tan((cam.fov * Math.PI) / 360) * Math.min(1, wide))
  const away = (reach * (view.at ? 1.3 : 1.02)) / Math.sin(half)
  // A place on the skin is seen from outside the body, a little from above.
  const outward = view.at && view.from ? new Vector3(...view.at).sub(new Vector3(...view.from)).normalize() : null
  if (outward) outward.z = Math.min(0.9, outward.z + 0.25)
  const direction =
    outward && outward.lengthSq() > 0.2
      ? outward.normalize()
      : view.name === 'Fit'
        ? cam.position.clone().sub(controls.target).normalize()
        : new Vector3(...directions[view.name]).normalize()
  cam.position.copy(target).addScaledVector(direction, away)
  cam.near = Math.max(0.01, away / 200)
  cam.far = away * 12 + bounds.radius * 10
  cam.updateProjectionMatrix()
  controls.target.copy(target)
  controls.update()
}

const turn = Math.PI / 24

/** Moves the camera and what it looks at, along its own picture. */
function pan(camera: Camera, controls: OrbitControls, arrow: string) {
  const offset = camera.position.clone().sub(controls.target)
  const side = new Vector3().crossVectors(camera.up, offset).normalize()
  const step = offset.length() * 0.05
  const rise = new Vector3().crossVectors(offset, side).normalize()
  const by =
    arrow === 'ArrowLeft'
      ? side.multiplyScalar(-step)
      : arrow === 'ArrowRight'
        ? side.multiplyScalar(step)
        : rise.multiplyScalar(arrow === 'ArrowUp' ? step : -step)
  camera.position.add(by)
  controls.target.add(by)
}

/** Turns the camera round what it looks at, not beyond the poles. */
function orbit(camera: Camera, controls: OrbitControls, arrow: string) {
  const offset = camera.position.clone().sub(controls.target)
  const side = new Vector3().crossVectors(camera.up, offset).normalize()
  if (arrow === 'ArrowLeft' || arrow === 'ArrowRight')
    offset.applyAxisAngle(camera.up, arrow === 'ArrowLeft' ? -turn : turn)
  else offset.applyAxisAngle(side, arrow === 'ArrowUp' ? -turn : turn)
  if (Math.abs(offset.clone().normalize().z) < 0.999) camera.position.copy(controls.target).add(offset)
}

function zoom(camera: Camera, controls: OrbitControls, by: number) {
  const offset = camera.position.clone().sub(controls.target)
  camera.position.copy(controls.target).addScaledVector(offset, by)
}

/** What a key does to the view; false: it is none of its keys. */
function lookByKey(e: KeyboardEvent, camera: Camera, controls: OrbitControls): boolean {
  const on = e.target as HTMLElement
  if (on.closest('input, textarea, select, [role=dialog]') || e.ctrlKey || e.metaKey || e.altKey) return false
  if (e.key.startsWith('Arrow') && !on.closest('button, a, li')) (e.shiftKey ? pan : orbit)(camera, controls, e.key)
  else if (e.key === '+' || e.key === '=') zoom(camera, controls, 0.88)
  else if (e.key === '-') zoom(camera, controls, 1.14)
  else return false
  return true
}

export function Controls({ bounds }: { bounds: SceneBounds }) {
  const { camera, gl, invalidate, size } = useThree()
  const controls = useMemo(() => {
    camera.up.set(0, 0, 1)
    const c = new OrbitControls(camera, gl.domElement)
    c.zoomToCursor = true
    c.enableDamping = false
    c.mouseButtons = { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.PAN }
    return c
  }, [camera, gl])
  useEffect(() => {
    const change = () => {
      invalidate()
      const stands = standing(camera, controls)
      if (stage.getState().stands !== stands) stage.setState({ stands })
    }
    controls.addEventListener('change', change)
    stage.setState({ controls })
    return () => {
      controls.removeEventListener('change', change)
      controls.dispose()
      stage.setState({ controls: null })
    }
  }, [camera, controls, invalidate])
  const view = useBench((s) => s.view)
  const first = useRef(true)
  const known = useRef('')
  useEffect(() => {
    // A job that just got its bodies is fitted once; later changes leave the view alone, and so do those of an empty bench while a
    // drawing is looked at square.
    const empty = bounds.radius === 70 && bounds.max[2] === 40
    const key = `${view.asked}`
    const drawing = useTool.getState().tool?.kind === outlineKind
    if ((!first.current || drawing) && known.current === key) return
    if (!empty) first.current = false
    known.current = key
    const { pose } = stage.getState()
    stage.setState({ pose: null })
    lookAt(camera as PerspectiveCamera, controls, bounds, view, size.width / size.height)
    if (pose) {
      camera.position.set(...pose.position)
      controls.target.set(...pose.target)
      controls.update()
    }
    invalidate()
  }, [view, bounds, camera, controls, invalidate, size])
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (!lookByKey(e, camera, controls)) return
      e.preventDefault()
      controls.update()
      invalidate()
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  }, [camera, controls, invalidate])
  return null
}
