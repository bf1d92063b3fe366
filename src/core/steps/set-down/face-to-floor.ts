import { z } from 'zod'
import { bodyRef, regionRef } from '@/core/recipe/fields'
import { defineStep } from '@/core/recipe/step'
import { num } from '@/core/recipe/say'
import { isMesh } from '@/core/body/body'
import { compose, rotationBetween, translation } from '@/core/math/affine'
import { symmetricEigen } from '@/core/math/eigen'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import { corners, crossOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { bodyBounds, moveBody } from '@/core/place/move-body'
import { resolveRegion } from '@/core/region/region'
import { StepError } from '@/core/recipe/step-error'
import { placed } from './placing'

/** Best plane through the picked triangles, weighted by area: outward normal and rms distance. */
function planeOf(mesh: TriMesh, flags: Uint8Array): { normal: Vec3; rms: number } {
  let total = 0
  const mean = [0, 0, 0], sum = [0, 0, 0]
  const points: [Vec3, number][] = []
  for (let t = 0; t < flags.length; t++) {
    if (!flags[t]) continue
    const c = crossOf(mesh, t)
    const w = Math.hypot(...c) / 6
    for (let k = 0; k < 3; k++) sum[k] += c[k]
    for (const p of corners(mesh, t)) {
      points.push([p, w])
      total += w
      for (let k = 0; k < 3; k++) mean[k] += w * p[k]
    }
  }
  if (!(total > 0)) throw new StepError('flat', 'The picked area has no size.', { tryThis: 'Pick a larger area.' })
  const m = mean.map((v) => v / total)
  const cov = [0, 0, 0, 0, 0, 0]
  for (const [p, w] of points) {
    const d = [p[0] - m[0], p[1] - m[1], p[2] - m[2]]
    cov[0] += w * d[0] * d[0]; cov[1] += w * d[0] * d[1]; cov[2] += w * d[0] * d[2]
    cov[3] += w * d[1] * d[1]; cov[4] += w * d[1] * d[2]; cov[5] += w * d[2] * d[2]
  }
  const { vectors, values } = symmetricEigen(cov)
  const mean3 = normalize(sum as unknown as Vec3)
  const n = vectors[0]
  return { normal: dot(n, mean3) < 0 ? [-n[0], -n[1], -n[2]] : n, rms: Math.sqrt(Math.max(0, values[0]) / total) }
}

export const faceToFloor = defineStep({
  kind: 'set-down/face-to-floor', version: 1, title: 'Face to floor',
  summary: 'Turns a body so that a picked face or area lies on the mat.',
  settings: z.object({ body: bodyRef(['mesh', 'solid']), region: regionRef('Face or area') }),
  async run({ settings: s, body }) {
    const b = body(s.body)
    const mesh: TriMesh = isMesh(b) ? b.mesh : { positions: b.display.positions, triangles: b.display.triangles }
    const { normal, rms } = planeOf(mesh, resolveRegion(mesh, s.region))
    const turn = rotationBetween(normal, [0, 0, -1])
    const turned = await moveBody(b, turn)
    const map = compose(translation([0, 0, -bodyBounds(turned).min[2]]), turn)
    const angle = (Math.acos(Math.max(-1, Math.min(1, -normal[2]))) * 180) / Math.PI
    return placed(s.body, b, map, `turned ${num(angle, 1)}° on to the picked face`, { turned: angle, planeRms: rms })
  },
})
