/** Plane profiles of known make, cut into chords as sections of a tessellated body come, with noise when asked. Lengths in mm. */
import { random } from '@/core/math/random'
import type { Place } from '@/core/outline/drawing'

type Side =
  | { readonly to: Place }
  | { readonly to: Place; readonly centre: Place; readonly ccw: boolean }
  | { readonly to: Place; readonly bend: (s: number) => Place }

export interface Profile {
  readonly start: Place
  readonly sides: readonly Side[]
  readonly closed: boolean
}

/**
 * @param chord greatest sag of an edge on an arc, mm
 * @param line longest edge on a straight side, mm
 * @param noise standard deviation of each place, mm
 */
export function chords(p: Profile, { chord = 0.02, line = 5, noise = 0, seed = 1 } = {}): Place[] {
  const out: Place[] = [p.start]
  let at = p.start
  for (const side of p.sides) {
    if ('centre' in side) {
      const { centre: c, ccw } = side
      const r = Math.hypot(at[0] - c[0], at[1] - c[1])
      const a = Math.atan2(at[1] - c[1], at[0] - c[0])
      let sweep = Math.atan2(side.to[1] - c[1], side.to[0] - c[0]) - a
      if (ccw) while (sweep <= 1e-9) sweep += 2 * Math.PI
      else while (sweep >= -1e-9) sweep -= 2 * Math.PI
      const n = Math.max(2, Math.ceil(Math.abs(sweep) / (2 * Math.acos(1 - chord / r))))
      for (let i = 1; i < n; i++)
        out.push([c[0] + r * Math.cos(a + (sweep * i) / n), c[1] + r * Math.sin(a + (sweep * i) / n)])
    } else if ('bend' in side) for (let i = 1; i < 60; i++) out.push(side.bend(i / 60))
    else {
      const n = Math.max(1, Math.ceil(Math.hypot(side.to[0] - at[0], side.to[1] - at[1]) / line))
      for (let i = 1; i < n; i++)
        out.push([at[0] + ((side.to[0] - at[0]) * i) / n, at[1] + ((side.to[1] - at[1]) * i) / n])
    }
    out.push(side.to)
    at = side.to
  }
  if (p.closed) out.pop()
  if (!noise) return out
  const rng = random(seed)
  return out.map(([x, y]) => [x + noise * rng.normal(), y + noise * rng.normal()])
}

/** A slot: two straight sides and two half rounds. */
export const slot = (length: number, radius: number): Profile => ({
  start: [0, -radius],
  closed: true,
  sides: [
    { to: [length, -radius] },
    { to: [length, radius], centre: [length, 0], ccw: true },
    { to: [0, radius] },
    { to: [0, -radius], centre: [0, 0], ccw: true },
  ],
})

/** A rectangle with rounded corners. */
export const rounded = (w: number, h: number, r: number): Profile => ({
  start: [r, 0],
  closed: true,
  sides: [
    { to: [w - r, 0] },
    { to: [w, r], centre: [w - r, r], ccw: true },
    { to: [w, h - r] },
    { to: [w - r, h], centre: [w - r, h - r], ccw: true },
    { to: [r, h] },
    { to: [0, h - r], centre: [r, h - r], ccw: true },
    { to: [0, r] },
    { to: [r, 0], centre: [r, r], ccw: true },
  ],
})

/** A plate with a notch: square corners, one inner round, one arc that meets its neighbours at corners. */
export const notched: Profile = {
  start: [0, 0],
  closed: true,
  sides: [
    { to: [40, 0] },
    { to: [40, 12] },
    { to: [28, 12] },
    { to: [24, 16], centre: [28, 16], ccw: false },
    { to: [24, 30] },
    { to: [8, 30], centre: [16, 24], ccw: true },
    { to: [0, 30] },
    { to: [0, 0] },
  ],
}

/** A scoop's rim: two smooth bends that meet at two corners. */
export const scoop: Profile = {
  start: [0, 0],
  closed: true,
  sides: [
    { to: [90, 0], bend: (s) => [90 * s, -22 * Math.sin(Math.PI * s) - 6 * Math.sin(2 * Math.PI * s)] },
    { to: [0, 0], bend: (s) => [90 * (1 - s), 34 * Math.sin(Math.PI * s) + 5 * Math.sin(3 * Math.PI * s)] },
  ],
}
