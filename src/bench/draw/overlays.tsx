/** Triangles and lines laid over the bodies: a pick, a fault, a mark. */
import { useThree } from '@react-three/fiber'
import { useEffect, useMemo } from 'react'
import { BufferAttribute, BufferGeometry, DoubleSide } from 'three'

/** A geometry of plain positions, given back when it is not needed any more. */
export function usePositions(points: Float32Array): BufferGeometry {
  const geometry = useMemo(() => {
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(points, 3))
    return g
  }, [points])
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => {
    invalidate()
    return () => {
      geometry.dispose()
      invalidate()
    }
  }, [geometry, invalidate])
  return geometry
}

/** Triangles laid over a body: a pick, a fault, a bore's wall. */
export function Overlay({
  points,
  colour,
  opacity = 0.75,
}: {
  points: Float32Array
  colour: string
  opacity?: number
}) {
  const geometry = usePositions(points)
  if (!points.length) return null
  return (
    <mesh geometry={geometry} renderOrder={2}>
      <meshBasicMaterial
        color={colour}
        transparent
        opacity={opacity}
        side={DoubleSide}
        polygonOffset
        polygonOffsetFactor={-2}
        polygonOffsetUnits={-2}
        depthWrite={false}
      />
    </mesh>
  )
}

/**
 * Triangles laid over a body, each corner in a colour of its own.
 * @param colours red green blue of each corner, linear, 0 to 1
 * @param lit shaded as the body is, so that its form stays to be seen
 */
export function ColouredOverlay({
  points,
  colours,
  lit = false,
}: {
  points: Float32Array
  colours: Float32Array
  lit?: boolean
}) {
  const geometry = usePositions(points)
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => {
    geometry.setAttribute('color', new BufferAttribute(colours, 3))
    if (lit) geometry.computeVertexNormals()
    invalidate()
  }, [geometry, colours, lit, invalidate])
  const material = {
    vertexColors: true,
    side: DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: -2,
    polygonOffsetUnits: -2,
  }
  return (
    <mesh geometry={geometry} renderOrder={lit ? 1 : 2}>
      {lit ? <meshLambertMaterial {...material} /> : <meshBasicMaterial {...material} depthWrite={false} />}
    </mesh>
  )
}

/** Segments given as point pairs, always seen. */
export function OverlaySegments({ points, colour }: { points: Float32Array; colour: string }) {
  const geometry = usePositions(points)
  return (
    <lineSegments geometry={geometry} renderOrder={3}>
      <lineBasicMaterial color={colour} linewidth={2} depthTest={false} transparent />
    </lineSegments>
  )
}

/** A line through points, always seen. */
export function OverlayLine({ points, colour }: { points: Float32Array; colour: string }) {
  const pairs = useMemo(() => {
    const out = new Float32Array(Math.max(0, points.length / 3 - 1) * 6)
    for (let i = 0; i + 1 < points.length / 3; i++) out.set(points.subarray(3 * i, 3 * i + 6), 6 * i)
    return out
  }, [points])
  return <OverlaySegments points={pairs} colour={colour} />
}
