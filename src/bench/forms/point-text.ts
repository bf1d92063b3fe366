import { num } from '@/core/base/say'

/** A place in a few characters: "12.5, 0, -3". */
export const pointText = (v: readonly number[] | undefined): string => (v ? v.map((x) => num(x, 1)).join(', ') : '')
