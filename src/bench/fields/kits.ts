/** What the kinds of field registered themselves with: for those who work with fields of any kind and are used by some of them. */
import type { FieldInfo } from '@/core/step/fields'
import type { Hand } from '@/bench/hands/hand'
import type { FieldKit } from './field'

const kits = new Map<FieldInfo['field'], FieldKit>()

export function registerFields(all: Readonly<Record<FieldInfo['field'], FieldKit>>): void {
  for (const [kind, kit] of Object.entries(all)) kits.set(kind as FieldInfo['field'], kit)
}

export const kitOf = (info: FieldInfo): FieldKit => kits.get(info.field)!

export const handOf = (info: FieldInfo): Hand | undefined => {
  const { hand } = kitOf(info)
  return typeof hand === 'function' ? hand(info) : hand
}
