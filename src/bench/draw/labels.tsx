/** Words that stand at a place of the model: elements of the page that follow the camera. */
import { useFrame } from '@react-three/fiber'
import { useEffect, useLayoutEffect, useRef, type ReactNode } from 'react'
import { Vector3 } from 'three'
import type { Vec3 } from '@/core/math/vec'
import { stage } from '@/bench/stage3d/view'

const followers = new Map<HTMLElement, Vec3>()
const v = new Vector3()

function place(element: HTMLElement, at: Vec3): void {
  const { root } = stage.getState()
  if (!root) return
  v.set(...at).project(root.camera)
  const behind = v.z > 1
  element.style.visibility = behind ? 'hidden' : 'visible'
  element.style.transform = `translate(${((v.x + 1) / 2) * root.size.width}px, ${((1 - v.y) / 2) * root.size.height}px)`
}

/** Follows an element along with a place; gives what ends it. */
export function follow(element: HTMLElement, at: Vec3): () => void {
  followers.set(element, at)
  place(element, at)
  return () => void followers.delete(element)
}

/** In the canvas: moves all labels with each frame. */
export function LabelFollower() {
  useFrame(({ camera }) => {
    camera.updateMatrixWorld()
    for (const [element, at] of followers) place(element, at)
  })
  return null
}

/** On the canvas: words at a place. */
export function Label({
  at,
  className,
  title,
  testId,
  children,
}: {
  at: Vec3
  className: string
  title?: string
  testId?: string
  children: ReactNode
}) {
  const element = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => follow(element.current!, at), [at])
  useEffect(() => stage.subscribe(() => element.current && place(element.current, at)), [at])
  return (
    <div ref={element} className="label-at">
      <span className={className} title={title} data-testid={testId}>
        {children}
      </span>
    </div>
  )
}
