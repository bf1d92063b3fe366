/** The two half-spaces left and right of an upright line across the view, through the eye. */
import { useFrame, useThree } from '@react-three/fiber'
import { useRef } from 'react'
import { Plane, Vector3 } from 'three'

export function Wipe({ at, onPlanes }: { at: number; onPlanes(p: [Plane, Plane]): void }) {
  const { camera } = useThree()
  const last = useRef('')
  useFrame(() => {
    const key = `${at} ${camera.position.toArray().join()} ${camera.quaternion.toArray().join()}`
    if (key === last.current) return
    last.current = key
    camera.updateMatrixWorld()
    const edge = (y: number) => new Vector3(2 * at - 1, y, 0.5).unproject(camera)
    const p = new Plane().setFromCoplanarPoints(camera.position, edge(-1), edge(1))
    const right = new Vector3(1, 0, 0).applyQuaternion(camera.quaternion)
    if (p.normal.dot(right) < 0) p.negate()
    onPlanes([p.clone().negate(), p])
  })
  return null
}
