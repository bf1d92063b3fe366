/** A small picture of bodies for lists, drawn without a graphics card: depth buffer, flat shading, PNG (ISO/IEC 15948). */
import { crossInto } from '@/core/mesh/triangle'
import { encode } from 'fast-png'
import type { Body } from '@/core/bodies/body'
import { shownSkin } from '@/core/kinds/registry'

const width = 480,
  height = 300,
  over = 2
const palette = [
  [201, 164, 136],
  [126, 153, 150],
  [104, 121, 142],
  [203, 189, 160],
  [176, 108, 84],
  [150, 137, 168],
]
const paper = [236, 233, 226]

interface Canvas {
  readonly w: number
  readonly h: number
  readonly depth: Float32Array
  readonly pixels: Uint8Array
}

/** Draws one triangle, lit by how it faces, where nothing lies in front of it. `s`: as seen; `at`: on the picture. */
function drawTriangle(
  { w, h, depth, pixels }: Canvas,
  s: Float32Array,
  at: Float64Array,
  triangle: Uint32Array,
  colour: readonly number[],
): void {
  const [a, b, c] = [3 * triangle[0], 3 * triangle[1], 3 * triangle[2]]
  const px = [at[a], at[b], at[c]],
    py = [at[a + 1], at[b + 1], at[c + 1]]
  const area = (px[1] - px[0]) * (py[2] - py[0]) - (px[2] - px[0]) * (py[1] - py[0])
  if (!Number.isFinite(area) || area === 0) return
  const n = new Float64Array(3)
  const l = crossInto(s, triangle, 0, n) || 1
  const light = 0.42 + 0.58 * Math.abs((0.35 * n[0] + 0.62 * n[1] + 0.7 * n[2]) / l)
  for (let y = Math.max(0, Math.floor(Math.min(...py))); y <= Math.min(h - 1, Math.ceil(Math.max(...py))); y++) {
    // Where the row crosses the edges: thin triangles are not searched through their whole box.
    let from = Infinity,
      to = -Infinity
    for (let e = 0; e < 3; e++) {
      const f = (e + 1) % 3
      if (py[e] > y + 0.5 === py[f] > y + 0.5) continue
      const cross = px[e] + ((y + 0.5 - py[e]) / (py[f] - py[e])) * (px[f] - px[e])
      from = Math.min(from, cross)
      to = Math.max(to, cross)
    }
    for (let x = Math.max(0, Math.floor(from - 0.5)); x <= Math.min(w - 1, Math.ceil(to - 0.5)); x++) {
      const q = [x + 0.5, y + 0.5]
      const w0 = ((px[1] - q[0]) * (py[2] - q[1]) - (px[2] - q[0]) * (py[1] - q[1])) / area
      const w1 = ((px[2] - q[0]) * (py[0] - q[1]) - (px[0] - q[0]) * (py[2] - q[1])) / area
      const w2 = 1 - w0 - w1
      if (w0 < 0 || w1 < 0 || w2 < 0) continue
      const z = w0 * s[a + 2] + w1 * s[b + 2] + w2 * s[c + 2]
      if (z <= depth[y * w + x]) continue
      depth[y * w + x] = z
      for (let k = 0; k < 3; k++) pixels[3 * (y * w + x) + k] = colour[k] * light
    }
  }
}

/** The picture at its own size: each pixel the mean of those drawn for it. */
function shrunk(pixels: Uint8Array, w: number): Uint8Array {
  const small = new Uint8Array(3 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < 3; k++) {
        let v = 0
        for (let j = 0; j < over; j++)
          for (let i = 0; i < over; i++) v += pixels[3 * ((y * over + j) * w + x * over + i) + k]
        small[3 * (y * width + x) + k] = v / (over * over)
      }
  return small
}

/** PNG bytes, 480 x 300, seen from the front right corner above. */
export function drawPicture(bodies: readonly Body[]): Uint8Array {
  const w = width * over,
    h = height * over
  const depth = new Float32Array(w * h).fill(-Infinity)
  const pixels = new Uint8Array(w * h * 3)
  for (let i = 0; i < w * h; i++) for (let k = 0; k < 3; k++) pixels[3 * i + k] = paper[k]
  const r = Math.SQRT1_2,
    t = 0.5
  const right = [r, r, 0],
    up = [-t * r, t * r, Math.sqrt(1 - t * t)],
    back = [Math.sqrt(1 - t * t) * r, -Math.sqrt(1 - t * t) * r, t]
  const meshes = bodies.map(shownSkin)
  const seen = meshes.map(({ positions: p }) => {
    const out = new Float32Array(p.length)
    for (let i = 0; i < p.length; i += 3)
      for (const [k, a] of [right, up, back].entries()) out[i + k] = p[i] * a[0] + p[i + 1] * a[1] + p[i + 2] * a[2]
    return out
  })
  let x0 = Infinity,
    x1 = -Infinity,
    y0 = Infinity,
    y1 = -Infinity
  for (const s of seen)
    for (let i = 0; i < s.length; i += 3) {
      x0 = Math.min(x0, s[i])
      x1 = Math.max(x1, s[i])
      y0 = Math.min(y0, s[i + 1])
      y1 = Math.max(y1, s[i + 1])
    }
  const scale = 0.86 * Math.min(w / Math.max(x1 - x0, 1e-6), h / Math.max(y1 - y0, 1e-6))
  const cx = (x0 + x1) / 2,
    cy = (y0 + y1) / 2
  const canvas: Canvas = { w, h, depth, pixels }
  seen.forEach((s, m) => {
    const tri = meshes[m].triangles
    // Places on the picture, the third coordinate as it was: what is larger lies in front.
    const at = Float64Array.from(s, (v, i) =>
      i % 3 === 0 ? w / 2 + (v - cx) * scale : i % 3 === 1 ? h / 2 - (v - cy) * scale : v,
    )
    for (let i = 0; i < tri.length; i += 3)
      drawTriangle(canvas, s, at, tri.subarray(i, i + 3), palette[m % palette.length])
  })
  return encode({ width, height, data: shrunk(pixels, w), channels: 3, depth: 8 })
}
