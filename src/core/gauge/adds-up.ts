/** Volumes of what was cut or joined against those of what it was made of: laws of sets, which wrong geometry breaks. */
import { num } from '@/core/base/say'

const cubic = (v: number) => `${num(v, 3)} mm³`

/** Up to this share of the whole, volumes are the same: single precision and the kernel's tolerances. */
const share = 1e-5

/** A sentence where pieces are not as much as the whole, within `room` mm³ beside rounding; null where they are. */
export function piecesDiffer(whole: number, pieces: readonly number[], room = 0): string | null {
  const sum = pieces.reduce((s, v) => s + v, 0)
  return Math.abs(sum - whole) <= room + share * Math.abs(whole)
    ? null
    : `The pieces do not add up: ${pieces.map((v) => num(v, 3)).join(' + ')} is ${cubic(sum)}, and the whole was ${cubic(whole)}.`
}

/** A sentence where the volume of a union, difference or intersection cannot be right, whatever the bodies look like; null where it can. */
export function booleanDiffers(
  kind: 'union' | 'difference' | 'intersection',
  volumes: readonly number[],
  result: number,
  room = 0,
): string | null {
  const sum = volumes.reduce((s, v) => s + v, 0)
  const [least, most] = {
    union: [Math.max(...volumes), sum],
    difference: [volumes[0] - (sum - volumes[0]), volumes[0]],
    intersection: [0, Math.min(...volumes)],
  }[kind]
  const slack = room + share * Math.max(...volumes)
  return result >= least - slack && result <= most + slack
    ? null
    : `The ${kind} cannot be right: its volume is ${cubic(result)}, where ${cubic(Math.max(0, least))} to ${cubic(most)} are possible.`
}
