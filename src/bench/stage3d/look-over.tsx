'use client'
/** What is drawn over the bodies for looking: section faces, measure marks. */
import { Html } from '@react-three/drei'
import { useThree } from '@react-three/fiber'
import { useEffect, useMemo, useRef, useState } from 'react'
import { BufferAttribute, BufferGeometry, DoubleSide, Plane, Vector3 } from 'three'
import { picking } from '@/bench/picking/client'
import type { Mark } from '@/bench/state/marks'
import type { SectionPlane } from '@/bench/state/store'
import { num } from '@/core/base/say'
import type { Vec3 } from '@/core/math/vec'
import { OverlayLine } from './body-mesh'

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

/** Measures that stay with the job, and the one in hand. */
export function Marks({ marks }: { marks: Mark[] }) {
  return (
    <>
      {marks.map(({ id, facts, ghost, past }) => {
        const from = facts.markFrom as unknown as Vec3,
          to = facts.markTo as unknown as Vec3
        const middle: Vec3 = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2, (from[2] + to[2]) / 2]
        return (
          <group key={id}>
            <OverlayLine
              points={Float32Array.from([...from, ...to])}
              colour={ghost ? '#8a2f63' : past ? '#8b8f92' : '#0e5f55'}
            />
            <Html position={[...middle]} zIndexRange={[2, 0]}>
              <span
                className={`chip ${ghost ? 'picked' : past ? 'past' : ''}`}
                data-testid="mark"
                title={past ? 'Measured before the body was changed' : undefined}
              >
                <b className="figure">
                  {num(Number(facts.value), 3)}
                  {facts.unit === '°' ? '°' : ' mm'}
                </b>
              </span>
            </Html>
          </group>
        )
      })}
    </>
  )
}
