'use client'
/** The filled faces of section planes. */
import { useThree } from '@react-three/fiber'
import { useEffect, useMemo, useRef, useState } from 'react'
import { BufferAttribute, BufferGeometry, DoubleSide, Plane, Vector3 } from 'three'
import { picking } from '@/bench/picking/client'
import type { SectionPlane } from '@/bench/state/store'
import type { Vec3 } from '@/core/math/vec'

/** What a section takes away, as the renderer wants it: the half-space that stays. */
export function clipOf(s: SectionPlane): Plane {
  const way = s.flip ? -1 : 1
  return new Plane(new Vector3(-way * s.normal[0], -way * s.normal[1], -way * s.normal[2]), way * s.offset)
}

export interface Cut {
  name: string
  hash: string
  colour: string
}

/** The filled faces of one section plane through all bodies. The latest place wins: what comes late is not drawn. */
export function SectionFaces({ plane, bodies, others }: { plane: SectionPlane; bodies: Cut[]; others: Plane[] }) {
  return (
    <>
      {bodies.map((b) => (
        <SectionFace key={b.name} plane={plane} body={b} others={others} />
      ))}
    </>
  )
}

function SectionFace({ plane, body, others }: { plane: SectionPlane; body: Cut; others: Plane[] }) {
  const [cut, setCut] = useState<{ face: Float32Array; lines: Float32Array } | null>(null)
  const busy = useRef(false)
  const wanted = useRef<{ hash: string; normal: Vec3; offset: number } | null>(null)
  const invalidate = useThree((s) => s.invalidate)
  const { normal, offset } = plane
  useEffect(() => {
    wanted.current = { hash: body.hash, normal, offset }
    if (busy.current) return
    busy.current = true
    void (async () => {
      try {
        while (wanted.current) {
          const now = wanted.current
          wanted.current = null
          setCut(await picking().section(now.hash, now.normal, now.offset))
          invalidate()
        }
      } catch {
        // The body left the bench meanwhile.
      } finally {
        busy.current = false
      }
    })()
  }, [body.hash, normal, offset, invalidate])
  const face = useMemo(() => {
    if (!cut) return null
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(cut.face, 3))
    return g
  }, [cut])
  const lines = useMemo(() => {
    if (!cut) return null
    const g = new BufferGeometry()
    g.setAttribute('position', new BufferAttribute(cut.lines, 3))
    return g
  }, [cut])
  useEffect(
    () => () => {
      face?.dispose()
      lines?.dispose()
    },
    [face, lines],
  )
  if (!face || !lines) return null
  return (
    <>
      <mesh geometry={face} renderOrder={1}>
        <meshBasicMaterial
          color={body.colour}
          side={DoubleSide}
          clippingPlanes={others}
          polygonOffset
          polygonOffsetFactor={-1}
          polygonOffsetUnits={-1}
        />
      </mesh>
      <lineSegments geometry={lines} renderOrder={2}>
        <lineBasicMaterial color="#23272b" clippingPlanes={others} />
      </lineSegments>
    </>
  )
}
