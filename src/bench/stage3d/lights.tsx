/** Sky and sun, and whether there is a graphics card to afford their shadows. */
import { useThree } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import type { DirectionalLight } from 'three'
import type { SceneBounds } from './scene-bounds'

/** No graphics card: draw without the costly extras. */
export function softwareRenderer(): boolean {
  try {
    const gl = document.createElement('canvas').getContext('webgl2')
    const info = gl?.getExtension('WEBGL_debug_renderer_info')
    return /swiftshader|llvmpipe|software/i.test(String(gl?.getParameter(info?.UNMASKED_RENDERER_WEBGL ?? 0x1f01)))
  } catch {
    return true
  }
}

/**
 * How finely textures and shadows are drawn, 1 at most: where the processor draws by itself, no finer than the screen shows.
 */
export const drawnDetail = (soft: boolean): number => (soft ? Math.min(1, devicePixelRatio) : 1)

export const Sky = ({ dark }: { dark: boolean }) => (
  <hemisphereLight
    args={[dark ? '#a9b1b6' : '#ffffff', dark ? '#8a837a' : '#b3aca0', dark ? 1.25 : 1.55]}
    position={[0, 0, 1]}
  />
)

/** The sun; its shadows are drawn anew when `stamp` changes. */
export function Sun({ bounds, stamp, detail }: { bounds: SceneBounds; stamp: string; detail: number }) {
  const size = Math.round(2048 * detail)
  const light = useRef<DirectionalLight>(null)
  const { gl, invalidate, scene } = useThree()
  useEffect(() => {
    const l = light.current
    if (!l) return
    const r = bounds.radius
    l.position.set(bounds.centre[0] - 0.9 * r, bounds.centre[1] - 1.1 * r, bounds.centre[2] + 2.4 * r)
    l.target.position.set(...bounds.centre)
    scene.add(l.target)
    l.target.updateMatrixWorld()
    const cam = l.shadow.camera
    cam.left = cam.bottom = -1.5 * r
    cam.right = cam.top = 1.5 * r
    cam.near = 0.1 * r
    cam.far = 6 * r
    cam.updateProjectionMatrix()
    l.shadow.normalBias = 0.014 * r
    l.shadow.bias = -0.0006
    gl.shadowMap.autoUpdate = false
    gl.shadowMap.needsUpdate = true
    invalidate()
  }, [bounds, stamp, gl, invalidate, scene])
  return <directionalLight ref={light} intensity={2.1} castShadow shadow-mapSize={[size, size]} shadow-radius={3} />
}
