'use client'
/** One body drawn: its skin, the lines of its kind, and its shading. */
import { useFrame, useThree } from '@react-three/fiber'
import { useEffect, useMemo, useState } from 'react'
import { BufferAttribute, BufferGeometry, Color, DoubleSide, EdgesGeometry, type Plane } from 'three'
import { picking } from '@/bench/picking/client'
import type { Shaded } from '@/core/kinds/shade'
import { palette, useBench, type Shading } from '@/bench/state/store'
import { displayOf, isLive } from './displays'
import { colourAt } from './ramp'
import { stripes } from './stripes'

export interface BodyViewProps {
  name: string
  hash: string
  colour: string
  shading: Shading
  faint: boolean
  ghost: boolean
  ownColours: boolean
  clip?: Plane[]
  shift?: number
  onShown: () => void
}

export function BodyView({
  name,
  hash,
  colour,
  shading,
  faint,
  ghost,
  ownColours,
  clip,
  shift = 0,
  onShown,
}: BodyViewProps) {
  const [shaded, setShaded] = useState<{ hash: string; data: Shaded } | null>(null)
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => {
    let live = true
    displayOf(hash).then(
      (data) => {
        if (live) setShaded({ hash, data })
      },
      (error: unknown) => console.error(error),
    )
    return () => {
      live = false
    }
  }, [hash])
  const geometry = useMemo(() => {
    if (!shaded) return null
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(shaded.data.positions, 3))
    g.setAttribute('normal', new BufferAttribute(shaded.data.normals, 3))
    g.setIndex(new BufferAttribute(shaded.data.index, 1))
    g.computeBoundingSphere()
    return g
  }, [shaded])
  const lines = useMemo(() => {
    if (!shaded?.data.lines.length) return null
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(shaded.data.lines, 3))
    return g
  }, [shaded])
  // A ghost inside or behind a body shows through as an outline.
  const outline = useMemo(() => {
    if (!ghost || !geometry) return null
    if (lines) return lines
    return shaded && shaded.data.index.length < 600_000 ? new EdgesGeometry(geometry, 24) : null
  }, [ghost, geometry, lines, shaded])
  const dots = useMemo(() => {
    if (!shaded?.data.points.length) return null
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(shaded.data.points, 3))
    return g
  }, [shaded])
  useEffect(() => () => outline?.dispose(), [outline])
  useEffect(() => () => dots?.dispose(), [dots])
  const [pieces, setPieces] = useState<BufferAttribute | null>(null)
  const map = useBench((s) => (s.map?.name === name && s.map.hash === hash ? s.map : null))
  useEffect(() => {
    let live = true
    if (map && shaded?.hash === hash) {
      void picking()
        .deviationAt(shaded.data.positions.slice(), map.against)
        .then(
          (d) => {
            if (!live) return
            const at = new Float32Array(shaded.data.positions.length)
            const c = new Color()
            d.forEach((v, i) => {
              c.setRGB(...colourAt(map.flip ? -v : v, map.reach, map.tolerance, map.bound), 'srgb')
              at.set([c.r, c.g, c.b], 3 * i)
            })
            setPieces(new BufferAttribute(at, 3))
          },
          () => {},
        )
      return () => {
        live = false
      }
    }
    if (!ownColours || !shaded || isLive(shaded.hash)) {
      setPieces(null)
      return
    }
    void picking()
      .pieces(shaded.hash)
      .then((piece) => {
        if (!live) return
        const at = new Float32Array(shaded.data.positions.length)
        const c = new Color()
        shaded.data.index.forEach((v, i) => {
          c.set(palette[piece[(i / 3) | 0] % palette.length])
          at.set([c.r, c.g, c.b], 3 * v)
        })
        setPieces(new BufferAttribute(at, 3))
      })
    return () => {
      live = false
    }
  }, [ownColours, shaded, map, hash])
  useEffect(() => {
    if (!geometry) return
    if (pieces) geometry.setAttribute('color', pieces)
    else geometry.deleteAttribute('color')
    invalidate()
    onShown()
  }, [geometry, pieces, invalidate, onShown])
  useEffect(
    () => () => {
      geometry?.dispose()
    },
    [geometry],
  )
  const stripe = useMemo(() => (shading === 'stripes' ? stripes() : null), [shading])
  useFrame(() => {
    stripe?.uniforms.tint.value.set(colour)
  })
  if (!geometry) return null
  const through = faint || shading === 'see-through'
  // An outline or a datum has no skin to give its lines a ground.
  const bare = shaded?.data.index.length === 0
  return (
    <group position={[shift, 0, 0]}>
      <mesh geometry={geometry} castShadow={!through && !ghost} receiveShadow={!through}>
        {stripe ? (
          <primitive object={stripe} attach="material" />
        ) : (
          <meshStandardMaterial
            key={`${pieces ? 'p' : 'c'}${through ? 't' : 'o'}${clip?.length ?? 0}`}
            color={pieces ? '#ffffff' : ghost ? '#b7719a' : colour}
            vertexColors={!!pieces}
            roughness={0.78}
            metalness={0}
            side={DoubleSide}
            transparent={through || ghost}
            opacity={through ? 0.32 : ghost ? 0.62 : 1}
            depthWrite={!through}
            clippingPlanes={clip}
            polygonOffset
            // A ghost lies over the body that it was made from, where both fall together.
            polygonOffsetFactor={ghost ? -2 : 1}
            polygonOffsetUnits={ghost ? -2 : 1}
          />
        )}
      </mesh>
      {shading === 'edges' && !lines && (
        <mesh geometry={geometry}>
          <meshBasicMaterial wireframe color="#23272b" transparent opacity={0.28} clippingPlanes={clip} />
        </mesh>
      )}
      {lines && (
        <lineSegments geometry={lines}>
          <lineBasicMaterial
            color={ghost ? '#8a2f63' : bare ? colour : '#23272b'}
            transparent
            opacity={through ? 0.4 : bare ? 1 : 0.75}
            clippingPlanes={clip}
          />
        </lineSegments>
      )}
      {outline && (
        <lineSegments geometry={outline} renderOrder={2}>
          <lineBasicMaterial color="#8a2f63" transparent opacity={0.45} depthTest={false} clippingPlanes={clip} />
        </lineSegments>
      )}
      {dots && (
        <points geometry={dots}>
          <pointsMaterial
            color={ghost ? '#8a2f63' : '#23272b'}
            size={6}
            sizeAttenuation={false}
            clippingPlanes={clip}
          />
        </points>
      )}
    </group>
  )
}
