import type { Drawing } from '@/core/outline/drawing'
import { drawingNow, outline } from './state'
import { wayOf } from './ways'

/** What the places so far and the pointer would make. */
export function previewOf(): Drawing | null {
  const { way, placed, at, options } = outline.getState()
  const w = wayOf(way)
  if (!w.make || !at || (w.places !== 'many' && placed.length !== w.places - 1)) return null
  if (w.places === 'many' && !placed.length) return null
  return w.make(drawingNow(), [...placed, at], options, at)
}
