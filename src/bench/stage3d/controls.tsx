'use client'
/** Looking around: left-drag orbits, middle- and right-drag pan, the wheel zooms at the cursor; the same on keys. */
import { useThree } from '@react-three/fiber'
import { useEffect, useMemo, useRef } from 'react'
import { MOUSE, type PerspectiveCamera, Vector3 } from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { outlineKind } from '@/bench/outline/state'
import { useBench, type ViewName } from '@/bench/state/store'
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
    const change = () => invalidate()
    controls.addEventListener('change', change)
    stage.setState({ controls })
    return () => {
      controls.removeEventListener('change', change)
      controls.dispose()
      stage.setState({ controls: null })
    }
  }, [controls, invalidate])
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
    const cam = camera as PerspectiveCamera
    const target = new Vector3(...(view.at ?? bounds.centre))
    const reach = view.at ? Math.max(view.reach ?? 10, bounds.radius * 0.06) * 1.8 : bounds.radius
    const half = Math.atan(Math.tan((cam.fov * Math.PI) / 360) * Math.min(1, size.width / size.height))
    const away = (reach * (view.at ? 1.3 : 1.02)) / Math.sin(half)
    // A place on the skin is seen from outside the body, a little from above.
    const outward = view.at && view.from ? new Vector3(...view.at).sub(new Vector3(...view.from)).normalize() : null
    if (outward) outward.z = Math.min(0.9, outward.z + 0.25)
    const direction =
      outward && outward.lengthSq() > 0.2
        ? outward.normalize()
        : view.name === 'Fit'
          ? camera.position.clone().sub(controls.target).normalize()
          : new Vector3(...directions[view.name]).normalize()
    camera.position.copy(target).addScaledVector(direction, away)
    cam.near = Math.max(0.01, away / 200)
    cam.far = away * 12 + bounds.radius * 10
    cam.updateProjectionMatrix()
    controls.target.copy(target)
    controls.update()
    invalidate()
  }, [view, bounds, camera, controls, invalidate, size])
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const on = e.target as HTMLElement
      if (on.closest('input, textarea, select, [role=dialog]') || e.ctrlKey || e.metaKey || e.altKey) return
      const turn = Math.PI / 24
      const offset = camera.position.clone().sub(controls.target)
      if (e.key.startsWith('Arrow') && !on.closest('button, a, li')) {
        const side = new Vector3().crossVectors(camera.up, offset).normalize()
        if (e.shiftKey) {
          const step = offset.length() * 0.05
          const rise = new Vector3().crossVectors(offset, side).normalize()
          const by =
            e.key === 'ArrowLeft'
              ? side.multiplyScalar(-step)
              : e.key === 'ArrowRight'
                ? side.multiplyScalar(step)
                : rise.multiplyScalar(e.key === 'ArrowUp' ? step : -step)
          camera.position.add(by)
          controls.target.add(by)
        } else {
          if (e.key === 'ArrowLeft' || e.key === 'ArrowRight')
            offset.applyAxisAngle(camera.up, e.key === 'ArrowLeft' ? -turn : turn)
          else offset.applyAxisAngle(side, e.key === 'ArrowUp' ? -turn : turn)
          if (Math.abs(offset.clone().normalize().z) < 0.999) camera.position.copy(controls.target).add(offset)
        }
      } else if (e.key === '+' || e.key === '=') camera.position.copy(controls.target).addScaledVector(offset, 0.88)
      else if (e.key === '-') camera.position.copy(controls.target).addScaledVector(offset, 1.14)
      else return
      e.preventDefault()
      controls.update()
      invalidate()
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  }, [camera, controls, invalidate])
  return null
}
