'use client'
/** The floor of the bench: a mat with ruler marks in mm. */
import { useEffect, useMemo } from 'react'
import { CanvasTexture, SRGBColorSpace } from 'three'
import type { SceneBounds } from './scene-bounds'

/** A round step so that the mat shows some ten divisions. */
export function matStep(reach: number): number {
  const raw = Math.max(reach, 1) / 8
  const power = 10 ** Math.floor(Math.log10(raw))
  return [1, 2, 5, 10].map((f) => f * power).find((s) => s >= raw)!
}

function draw(half: number, step: number, dark: boolean, detail: number): HTMLCanvasElement {
  const size = 2048
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = Math.round(size * detail)
  const g = canvas.getContext('2d')!
  g.scale(detail, detail)
  g.fillStyle = dark ? '#43494d' : '#dbd8cf'
  g.fillRect(0, 0, size, size)
  const px = (v: number) => ((v + half) / (2 * half)) * size
  const line = (v: number, width: number, colour: string) => {
    g.strokeStyle = colour
    g.lineWidth = width
    g.beginPath()
    g.moveTo(px(v), 0)
    g.lineTo(px(v), size)
    g.moveTo(0, px(v))
    g.lineTo(size, px(v))
    g.stroke()
  }
  const fine = dark ? '#4c5357' : '#d2cec4',
    strong = dark ? '#5a6266' : '#c2bdb1',
    zero = dark ? '#7f898c' : '#8f8a7e'
  const n = Math.round((2 * half) / step)
  for (let i = 0; i <= 5 * n; i++) line(-half + (i * step) / 5, 1.2, fine)
  for (let i = 0; i <= n; i++) line(-half + i * step, 2, strong)
  line(0, 3.5, zero)
  g.fillStyle = dark ? '#aeb4b4' : '#6b675d'
  g.font = `600 ${Math.round(size / 46)}px "Atkinson Hyperlegible Mono Variable", monospace`
  g.textBaseline = 'bottom'
  for (let i = 0; i < n; i++) {
    const v = -half + i * step
    const label = String(Number(v.toFixed(4)))
    g.fillText(label, px(v) + 6, size - 4)
    if (i > 0) g.fillText(String(Number((-v).toFixed(4))), 6, px(v) - 3)
  }
  return canvas
}

interface MatProps {
  bounds: SceneBounds
  dark: boolean
  detail: number
  /** Something reaches below it: it is looked through, so that it hides no body. */
  under: boolean
}

export function Mat({ bounds, dark, detail, under }: MatProps) {
  const reach = Math.max(
    Math.abs(bounds.min[0]),
    Math.abs(bounds.max[0]),
    Math.abs(bounds.min[1]),
    Math.abs(bounds.max[1]),
    20,
  )
  const step = matStep(2 * reach)
  const half = Math.ceil((reach * 1.12) / step) * step
  const texture = useMemo(() => {
    const t = new CanvasTexture(draw(half, step, dark, detail))
    t.colorSpace = SRGBColorSpace
    t.anisotropy = 8
    return t
  }, [half, step, dark, detail])
  useEffect(() => () => texture.dispose(), [texture])
  return (
    <mesh receiveShadow position={[0, 0, -0.02 * Math.max(1, half / 100)]} name="mat">
      <planeGeometry args={[2 * half, 2 * half]} />
      <meshLambertMaterial
        key={String(under)}
        map={texture}
        transparent={under}
        opacity={under ? 0.45 : 1}
        depthWrite={!under}
        polygonOffset
        polygonOffsetFactor={2}
        polygonOffsetUnits={2}
      />
    </mesh>
  )
}
