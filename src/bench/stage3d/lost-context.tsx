'use client'
/** The browser may take the drawing context away (a driver that starts again, a machine that slept, too many pages): all is drawn again. */
import { useThree } from '@react-three/fiber'
import { useEffect } from 'react'
import { stage } from './view'

/** A context that does not come back by itself within this time is given up for a new one, ms. */
const patience = 3000

export function LostContext({ onGone }: { onGone(): void }) {
  const { camera, gl, invalidate } = useThree()
  useEffect(() => {
    const canvas = gl.domElement
    let waiting: ReturnType<typeof setTimeout> | undefined
    const lost = (e: Event) => {
      // Without this the browser would not give it back.
      e.preventDefault()
      clearTimeout(waiting)
      waiting = setTimeout(() => {
        const target = stage.getState().controls?.target
        if (target) stage.setState({ pose: { position: camera.position.toArray(), target: target.toArray() } })
        onGone()
      }, patience)
    }
    const back = () => {
      clearTimeout(waiting)
      gl.shadowMap.needsUpdate = true
      invalidate()
    }
    canvas.addEventListener('webglcontextlost', lost)
    canvas.addEventListener('webglcontextrestored', back)
    return () => {
      clearTimeout(waiting)
      canvas.removeEventListener('webglcontextlost', lost)
      canvas.removeEventListener('webglcontextrestored', back)
    }
  }, [camera, gl, invalidate, onGone])
  return null
}
