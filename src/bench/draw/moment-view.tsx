/** What is under the pointer, written past React: moving the pointer renders nothing. */
import { useThree } from '@react-three/fiber'
import { useEffect, useMemo, useRef } from 'react'
import { BufferAttribute, BufferGeometry, DoubleSide, type LineSegments, type Mesh } from 'three'
import { moment } from '@/bench/hands/moment'
import { follow } from './labels'

const none = new Float32Array(0)

/** In the canvas: the triangles and lines of the moment. */
export function MomentOver() {
  const mesh = useRef<Mesh>(null),
    lines = useRef<LineSegments>(null)
  const invalidate = useThree((s) => s.invalidate)
  const geometries = useMemo(() => [new BufferGeometry(), new BufferGeometry()] as const, [])
  useEffect(() => {
    const show = () => {
      const { shown } = moment.getState()
      const lists = [shown?.triangles ?? none, shown?.lines ?? none]
      geometries.forEach((g, i) => {
        g.dispose()
        g.setAttribute('position', new BufferAttribute(lists[i], 3))
        g.computeBoundingSphere()
      })
      if (mesh.current) mesh.current.visible = lists[0].length > 0
      if (lines.current) lines.current.visible = lists[1].length > 0
      invalidate()
    }
    show()
    return moment.subscribe(show)
  }, [geometries, invalidate])
  useEffect(() => () => geometries.forEach((g) => g.dispose()), [geometries])
  return (
    <>
      <mesh ref={mesh} geometry={geometries[0]} renderOrder={2} visible={false}>
        <meshBasicMaterial
          color="#8a2f63"
          transparent
          opacity={0.5}
          side={DoubleSide}
          polygonOffset
          polygonOffsetFactor={-2}
          polygonOffsetUnits={-2}
          depthWrite={false}
        />
      </mesh>
      <lineSegments ref={lines} geometry={geometries[1]} renderOrder={4} visible={false}>
        <lineBasicMaterial color="#8a2f63" linewidth={3} depthTest={false} transparent />
      </lineSegments>
    </>
  )
}

/** On the canvas: the words of the moment. */
export function MomentLabel() {
  const box = useRef<HTMLDivElement>(null),
    chip = useRef<HTMLSpanElement>(null)
  useEffect(() => {
    let stop = () => {}
    const show = () => {
      stop()
      const label = moment.getState().shown?.label
      if (!box.current || !chip.current) return
      box.current.hidden = !label
      if (!label) return
      chip.current.textContent = label.text
      stop = follow(box.current, label.at)
    }
    show()
    const off = moment.subscribe(show)
    return () => {
      off()
      stop()
    }
  }, [])
  return (
    <div ref={box} className="label-at" hidden>
      <span ref={chip} className="chip picked above" data-testid="moment" />
    </div>
  )
}
