/** The drawing over the picture, with what lies behind it and what is typed. */
import { useEffect, useMemo } from 'react'
import { num } from '@/core/base/say'
import { type DrawingPlane, type Place } from '@/core/outline/drawing'
import { isTaken, type Taken } from '@/core/find/taken'
import { useJobBodies } from '@/bench/state/bodies'
import { useTool } from '@/bench/state/tool'
import { useStore } from 'zustand'
import { jobValues } from '@/bench/state/values'
import { outlineWorker } from './client'
import { Figures } from './figures'
import { Picture } from './picture'
import { projector, useLens } from './over'
import { Signs } from './signs-over'
import {
  analyse,
  bringUpToDate,
  drawingNow,
  freshOutline,
  outline,
  outlineKind,
  useDrawing,
  planeOfValues,
  useOutline,
} from './state'
import { wayOf } from './ways'

/** The plane as it is now: of the outline or datum that is drawn on, else as typed. */
function usePlane(): DrawingPlane {
  const ground = useOutline((s) => s.ground)
  const at = useTool((s) => s.tool?.values.at)
  const normal = useTool((s) => s.tool?.values.normal)
  const x = useTool((s) => s.tool?.values.x)
  return useMemo(() => ground?.plane ?? planeOfValues({ at, normal, x }), [ground, at, normal, x])
}

/** Fetches the ground when the body that is drawn on changes. */
function useGround(): void {
  const on = useTool((s) => (s.tool?.kind === outlineKind ? (s.tool.values.on as string | undefined) : undefined))
  const hash = useJobBodies((list) => list.find((b) => b.name === on)?.hash ?? null)
  // Where place and direction are taken from bodies, as text: it says when they are to be asked for again.
  const taken = useTool((s) => {
    const v = s.tool?.kind === outlineKind ? s.tool.values : {}
    return !v.on && (isTaken(v.at) || isTaken(v.normal)) ? JSON.stringify([v.at ?? null, v.normal ?? null]) : ''
  })
  const from = useJobBodies((list) => {
    const asked = taken ? (JSON.parse(taken) as unknown[]) : []
    return asked.map((t) => (isTaken(t) ? (list.find((b) => b.name === t.from)?.hash ?? '') : '')).join()
  })
  useEffect(() => {
    if (!taken) return
    const [at, normal] = JSON.parse(taken) as unknown[]
    const [atHash, normalHash] = from.split(',')
    let live = true
    const where = (t: unknown, h: string) => (isTaken(t) && h ? outlineWorker().whereabouts(h, t) : null)
    Promise.all([where(at, atHash), where(normal, normalHash)])
      .then(([a, n]) => {
        if (!live) return
        const { x } = useTool.getState().tool?.values ?? {}
        const plane = planeOfValues({ at: a?.at ?? at, normal: n?.way ?? normal, x })
        outline.setState({ ground: { hash: taken + from, plane, references: [], drawing: null } })
      })
      .catch((e: unknown) => console.error(e))
    return () => {
      live = false
    }
  }, [taken, from])
  useEffect(() => {
    if (taken) return
    if (!on || !hash) {
      if (outline.getState().ground) outline.setState({ ground: null })
      return
    }
    if (outline.getState().ground?.hash === hash) return
    let live = true
    outlineWorker()
      .ground(hash)
      .then((g) => {
        if (!live || !g) return
        outline.setState({ ground: { hash, ...g } })
      })
      .catch((e: unknown) => console.error(e))
    return () => {
      live = false
    }
  }, [on, hash, taken])
}

/** Fetches the curves of other outlines that are to lie behind. */
function useBehind(plane: DrawingPlane): void {
  const names = useTool((s) =>
    s.tool?.kind === outlineKind ? (s.tool.values.behind as string[] | undefined) : undefined,
  )
  const hashes = useJobBodies((list) => (names ?? []).flatMap((n) => list.find((b) => b.name === n)?.hash ?? []).join())
  const over = useTool((s) => (s.tool?.kind === outlineKind ? (s.tool.values.over as Taken[] | undefined) : undefined))
  const edges = useJobBodies((list) =>
    JSON.stringify(
      (over ?? []).flatMap((taken) => {
        const hash = list.find((b) => b.name === taken.from)?.hash
        return hash ? [{ hash, taken }] : []
      }),
    ),
  )
  const where = JSON.stringify(plane)
  useEffect(() => {
    if (!hashes && edges === '[]') {
      if (outline.getState().behind.length) outline.setState({ behind: [] })
      return
    }
    let live = true
    outlineWorker()
      .behind(
        hashes ? hashes.split(',') : [],
        JSON.parse(edges) as { hash: string; taken: Taken }[],
        JSON.parse(where) as DrawingPlane,
      )
      .then((behind) => live && outline.setState({ behind }))
      .catch((e: unknown) => console.error(e))
    return () => {
      live = false
    }
  }, [hashes, edges, where])
}

export function OutlineFlat() {
  const inHand = useTool((s) => `${s.tool?.kind} ${s.tool?.editing ?? ''}`)
  // A new drawing starts with nothing picked; one that is opened again with all of it.
  useEffect(() => {
    outline.setState({ ...freshOutline, way: drawingNow().curves.length ? 'pick' : 'line' })
    return () => outline.setState(freshOutline)
  }, [inHand])
  useGround()
  const numbers = useStore(jobValues, (v) => v.numbers)
  useEffect(() => void bringUpToDate(), [inHand, numbers])
  const saved = useDrawing()
  const tolerance = useOutline((s) => s.options.tolerance)
  useEffect(() => void analyse(saved), [saved, tolerance])
  const pulled = useOutline((s) => s.pulled)
  const lens = useLens()
  const plane = usePlane()
  useBehind(plane)
  const d = pulled ?? saved
  if (!lens) return null
  const at = projector(lens, plane)
  const [p, q] = [at([0, 0]), at([1, 0])]
  const px = 1 / (Math.hypot(q[0] - p[0], q[1] - p[1]) || 1)
  return (
    <>
      <Picture d={d} at={at} px={px} />
      <Signs d={d} at={at} px={px} />
      <Figures d={d} at={at} px={px} plane={plane} />
      <Typed at={at} />
    </>
  )
}

/** Numbers typed while drawing, beside the pointer; or the length and angle of what is being drawn. */
function Typed({ at }: { at: (p: Place) => Place }) {
  const typed = useOutline((s) => s.typed)
  const snap = useOutline((s) => s.at)
  const placed = useOutline((s) => s.placed)
  const way = useOutline((s) => s.way)
  const w = wayOf(way)
  const last = placed[placed.length - 1]
  if (!last || !w.typed || placed.length !== (w.places as number) - 1) return null
  const place = snap?.at ?? last.at
  const [x, y] = at(place)
  const [dx, dy] = [place[0] - last.at[0], place[1] - last.at[1]]
  const now =
    w.id === 'line'
      ? `${num(Math.hypot(dx, dy), 2)} mm  ${num(((Math.atan2(dy, dx) * 180) / Math.PI + 360) % 360, 1)}°`
      : w.id === 'rectangle'
        ? `${num(Math.abs(dx), 2)} × ${num(Math.abs(dy), 2)} mm`
        : w.id === 'circle' || w.id === 'polygon'
          ? `⌀ ${num(2 * Math.hypot(dx, dy), 2)} mm`
          : ''
  return (
    <div className="label-at" style={{ transform: `translate(${x}px, ${y}px)` }}>
      <span className={`chip beside${typed ? ' picked' : ''}`} data-testid="typed">
        {typed ? (
          <>
            {w.typed.word} <b className="figure">{typed}</b>
          </>
        ) : (
          <span className="figure">{now}</span>
        )}
      </span>
    </div>
  )
}
