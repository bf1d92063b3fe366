'use client'
/** Shapes drawn over the view: by a drag (box, lasso, circle, line) or corner by corner (polygon, line, outline); the first corner closes. */
import { useCallback, useEffect, useRef, useState } from 'react'

export type DrawMode = 'box' | 'lasso' | 'circle' | 'polygon' | 'line' | 'outline'
export type Screen = [number, number]

/** Pixels within which a click means a corner that is there already. */
const closeBy = 9
const far = (a: Screen, b: Screen) => Math.hypot(a[0] - b[0], a[1] - b[1])

const dragged = (mode: DrawMode, from: Screen, path: readonly Screen[]): Screen[] => {
  const to = path[path.length - 1] ?? from
  if (mode === 'box') return [from, [to[0], from[1]], to, [from[0], to[1]]]
  if (mode === 'circle')
    return Array.from({ length: 48 }, (_, i): Screen => {
      const a = (2 * Math.PI * i) / 48,
        r = far(from, to)
      return [from[0] + r * Math.cos(a), from[1] + r * Math.sin(a)]
    })
  if (mode === 'line') return [from, to]
  // Freehand: corners closer than two pixels carry nothing.
  return path.reduce<Screen[]>((out, p) => (far(out[out.length - 1], p) < 2 ? out : [...out, p]), [from])
}

export function useDrawing(mode: DrawMode | null, done: (corners: Screen[]) => void) {
  const [shape, setShape] = useState<{ points: Screen[]; closed: boolean } | null>(null)
  const from = useRef<Screen | null>(null)
  const path = useRef<Screen[]>([])
  const corners = useRef<Screen[]>([])
  const closed = mode !== 'line'
  const clear = useCallback(() => {
    from.current = null
    path.current = []
    corners.current = []
    setShape(null)
  }, [])
  useEffect(() => {
    clear()
  }, [mode, clear])
  const finish = useCallback(() => {
    const list = corners.current
    clear()
    if (list.length >= (closed ? 3 : 2)) done(list)
  }, [clear, closed, done])
  useEffect(() => {
    if (!mode) return
    const key = (e: KeyboardEvent) => {
      if (!corners.current.length) return
      if (e.key === 'Enter') finish()
      else if (e.key === 'Escape') clear()
      else return
      e.preventDefault()
      e.stopPropagation()
    }
    window.addEventListener('keydown', key, true)
    return () => window.removeEventListener('keydown', key, true)
  }, [mode, finish, clear])
  return {
    shape,
    down(p: Screen) {
      from.current = p
      path.current = []
    },
    move(p: Screen) {
      if (!mode) return
      if (from.current && !corners.current.length && mode !== 'polygon') {
        path.current.push(p)
        setShape({ points: dragged(mode, from.current, path.current), closed })
      } else if (corners.current.length) setShape({ points: [...corners.current, p], closed: false })
    },
    /** Gives whether the event was used. */
    up(p: Screen): boolean {
      const start = from.current
      from.current = null
      if (!mode || !start) return false
      const still = far(start, p) < 4
      if (!still && !corners.current.length && mode !== 'polygon') {
        const list = dragged(mode, start, [...path.current, p])
        clear()
        if (list.length >= (closed ? 3 : 2)) done(list)
        return true
      }
      if (mode === 'box' || mode === 'lasso' || mode === 'circle') {
        clear()
        return false
      }
      const list = corners.current
      if (
        (closed && list.length >= 3 && far(list[0], p) < closeBy) ||
        (list.length >= 2 && far(list[list.length - 1], p) < closeBy)
      )
        finish()
      else {
        list.push(p)
        setShape({ points: [...list], closed: false })
      }
      return true
    },
  }
}
