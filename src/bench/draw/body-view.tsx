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

/** What a body looks like, fetched by its content; null until it is here. */
function useShaded(hash: string): { hash: string; data: Shaded } | null {
  const [shaded, setShaded] = useState<{ hash: string; data: Shaded } | null>(null)
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
  return shaded
}

function pointsGeometry(points: Float32Array): BufferGeometry | null {
  if (!points.length) return null
  const g = new BufferGeometry()
  g.setAttribute('position', new BufferAttribute(points, 3))
  return g
}

/** Skin, lines, dots of a body; of a ghost an outline too, which shows through what it lies in or behind. */
function useGeometries(shaded: { data: Shaded } | null, ghost: boolean) {
  const geometry = useMemo(() => {
    if (!shaded) return null
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(shaded.data.positions, 3))
    g.setAttribute('normal', new BufferAttribute(shaded.data.normals, 3))
    g.setIndex(new BufferAttribute(shaded.data.index, 1))
    g.computeBoundingSphere()
    return g
  }, [shaded])
  const lines = useMemo(() => shaded && pointsGeometry(shaded.data.lines), [shaded])
  const outline = useMemo(() => {
    if (!ghost || !geometry) return null
    if (lines) return lines
    return shaded && shaded.data.index.length < 600_000 ? new EdgesGeometry(geometry, 24) : null
  }, [ghost, geometry, lines, shaded])
  const dots = useMemo(() => shaded && pointsGeometry(shaded.data.points), [shaded])
  useEffect(() => () => outline?.dispose(), [outline])
  useEffect(() => () => dots?.dispose(), [dots])
  useEffect(() => () => geometry?.dispose(), [geometry])
  return { geometry, lines, outline, dots }
}

/** Colours of all points, by a function that sets one for the point of a number. */
function coloured(points: number, paint: (put: (i: number, c: Color) => void, c: Color) => void): BufferAttribute {
  const at = new Float32Array(points)
  paint((i, c) => at.set([c.r, c.g, c.b], 3 * i), new Color())
  return new BufferAttribute(at, 3)
}

/** Colours point by point: of a map that is shown, or of the body's pieces; null: it has one colour. */
function useColours(name: string, hash: string, shaded: { hash: string; data: Shaded } | null, pieces: boolean) {
  const [colours, setColours] = useState<BufferAttribute | null>(null)
  const map = useBench((s) => (s.map?.name === name && s.map.hash === hash ? s.map : null))
  useEffect(() => {
    let live = true
    const show = (made: () => BufferAttribute) => {
      if (live) setColours(made())
    }
    const over = () => {
      live = false
    }
    if (map && shaded?.hash === hash) {
      const { positions } = shaded.data
      const painted = (distances: ArrayLike<number>) =>
        coloured(positions.length, (put, c) => {
          for (let i = 0; i < distances.length; i++) {
            const v = distances[i]
            put(i, c.setRGB(...colourAt(map.flip ? -v : v, map.reach, map.tolerance, map.bound), 'srgb'))
          }
        })
      void picking()
        .deviationAt(positions.slice(), map.against)
        .then(
          (d) => show(() => painted(d)),
          () => {},
        )
      return over
    }
    if (!pieces || !shaded || isLive(shaded.hash)) {
      setColours(null)
      return
    }
    const { positions, index } = shaded.data
    const painted = (piece: ArrayLike<number>) =>
      coloured(positions.length, (put, c) =>
        index.forEach((v, i) => put(v, c.set(palette[piece[(i / 3) | 0] % palette.length]))),
      )
    void picking()
      .pieces(shaded.hash)
      .then((p) => show(() => painted(p)))
    return over
  }, [pieces, shaded, map, hash])
  return colours
}

export function BodyView(props: BodyViewProps) {
  const { name, hash, shading, faint, ghost, ownColours, clip, shift = 0, onShown } = props
  const invalidate = useThree((s) => s.invalidate)
  const shaded = useShaded(hash)
  const { geometry, lines, outline, dots } = useGeometries(shaded, ghost)
  const colours = useColours(name, hash, shaded, ownColours)
  useEffect(() => {
    if (!geometry) return
    if (colours) geometry.setAttribute('color', colours)
    else geometry.deleteAttribute('color')
    invalidate()
    onShown()
  }, [geometry, colours, invalidate, onShown])
  if (!geometry) return null
  const through = faint || shading === 'see-through'
  const ink = ghost ? '#8a2f63' : '#23272b'
  return (
    <group position={[shift, 0, 0]}>
      <Skin {...props} geometry={geometry} coloured={!!colours} through={through} />
      {shading === 'edges' && !lines && (
        <mesh geometry={geometry}>
          <meshBasicMaterial wireframe color="#23272b" transparent opacity={0.28} clippingPlanes={clip} />
        </mesh>
      )}
      {lines && <Lines {...props} geometry={lines} bare={shaded?.data.index.length === 0} through={through} />}
      {outline && (
        <lineSegments geometry={outline} renderOrder={2}>
          <lineBasicMaterial color="#8a2f63" transparent opacity={0.45} depthTest={false} clippingPlanes={clip} />
        </lineSegments>
      )}
      {dots && (
        <points geometry={dots}>
          <pointsMaterial color={ink} size={6} sizeAttenuation={false} clippingPlanes={clip} />
        </points>
      )}
    </group>
  )
}

interface Drawn extends BodyViewProps {
  geometry: BufferGeometry
  through: boolean
}

function Skin({ geometry, coloured: own, through, colour, ghost, shading, clip }: Drawn & { coloured: boolean }) {
  const stripe = useMemo(() => (shading === 'stripes' ? stripes() : null), [shading])
  useFrame(() => {
    stripe?.uniforms.tint.value.set(colour)
  })
  return (
    <mesh geometry={geometry} castShadow={!through && !ghost} receiveShadow={!through}>
      {stripe ? (
        <primitive object={stripe} attach="material" />
      ) : (
        <meshStandardMaterial
          key={`${own ? 'p' : 'c'}${through ? 't' : 'o'}${clip?.length ?? 0}`}
          color={own ? '#ffffff' : ghost ? '#b7719a' : colour}
          vertexColors={own}
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
  )
}

/** `bare`: an outline or a datum has no skin to give its lines a ground. */
function Lines({ geometry, bare, through, ghost, colour, clip }: Drawn & { bare: boolean }) {
  return (
    <lineSegments geometry={geometry}>
      <lineBasicMaterial
        color={ghost ? '#8a2f63' : bare ? colour : '#23272b'}
        transparent
        opacity={through ? 0.4 : bare ? 1 : 0.75}
        clippingPlanes={clip}
      />
    </lineSegments>
  )
}
