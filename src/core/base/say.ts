/** Figures as a maker reads them. */
import type { Vec3 } from '@/core/math/vec'

/** A number with at most `digits` after the point and no trailing zeros. */
export const num = (v: number, digits = 2): string => String(Number(v.toFixed(digits)))
/** A count with thin groups of three: 149 812. */
export const many = (n: number): string =>
  Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, '\u202f')
export const mm = (v: number, digits = 2): string => `${num(v, digits)} mm`
export const sizeText = (s: Vec3 | readonly number[]): string => `${s.map((v) => num(v, 1)).join(' × ')} mm`
/** A share as a percentage: 0.125 is "12.5 %". */
export const percentText = (share: number, digits = 1): string => `${num(100 * share, digits)} %`
export const plural = (n: number, one: string, more = `${one}s`): string => `${many(n)} ${n === 1 ? one : more}`
/** mm³ or, from a tenth of a litre on, cm³. */
export const volumeText = (v: number): string => (Math.abs(v) >= 1000 ? `${num(v / 1000, 2)} cm³` : `${num(v, 1)} mm³`)
/** An area in the unit that reads well, from mm². */
export const areaText = (v: number): string => (Math.abs(v) >= 1000 ? `${num(v / 100, 2)} cm²` : `${num(v, 1)} mm²`)

/** A word with its article: "a mesh", "an outline". */
export const one = (word: string): string => `${/^[aeiou]/i.test(word) ? 'an' : 'a'} ${word}`
