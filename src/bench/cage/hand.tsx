/** The hand that edits a cage: it picks points, edges and faces, and pulls them. */
import { cross, dot, frame, sub, type Vec3 } from '@/core/math/vec'
import { type Picked } from '@/core/cage/edit/net'
import type { CageEdit } from '@/core/cage/edit/schema'
import { plural } from '@/core/base/say'
import { Drawing } from '@/bench/hands/drawing'
import { DrawnShapeView } from '@/bench/hands/drawn-shape'
import type { BenchView, Grip, Hand, Pointer } from '@/bench/hands/hand'
import { gripHandle, handleAt, type HandleSpec } from '@/bench/hands/handle'
import { handlesNow } from './pulls'
import { roundLength } from '@/bench/hands/round'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { doAction } from './actions'
import { inside, reached, under } from './aim'
import { CageFlat, CageOver } from './over'
import { addEdit, cageKind, cageStore, change, editsOf, isPicked, middleOf, pick, targetNow } from './state'

const words = { points: 'point', edges: 'edge', faces: 'face' } as const

/** What is picked with more added, or with it taken away where all of it was picked. */
function toggled(picked: Picked, ids: readonly number[], mode: 'add' | 'take'): Picked {
  const { sort } = cageStore.getState()
  const now = new Set(picked[sort])
  const all = ids.every((i) => now.has(i))
  for (const i of ids)
    if (mode === 'take' || all) now.delete(i)
    else now.add(i)
  return { points: [], edges: [], faces: [], [sort]: [...now] }
}

const drawing = new Drawing(
  () => {
    const { way } = cageStore.getState()
    return way === 'click' || way === 'draw' ? null : way
  },
  (corners, b) => {
    const { cage, sort, through, picked } = cageStore.getState()
    if (!cage) return
    const ids = inside(cage, sort, corners, b, through)
    if (ids.length) pick(toggled(picked, ids, useBench.getState().pick.mode))
  },
)

const tidy = (v: readonly number[]) => v.map((x) => Number(x.toFixed(4))) as [number, number, number]

/** The edit of a handle dragged to a value; with Shift held at the start faces and edges are extruded by it. */
function editFor(h: HandleSpec, v: number, lifts: boolean, at: Vec3, target: Record<string, unknown>): CageEdit {
  const { handles, reach, picked } = cageStore.getState()
  const soft = reach > 0 ? { reach } : {}
  const by = tidy(h.axis.map((x) => x * v))
  if (handles === 'turn') return { do: 'turn', ...target, ...soft, at: tidy(at), axis: tidy(h.axis), angle: v }
  if (handles === 'scale')
    return {
      do: 'scale',
      ...target,
      ...soft,
      at: tidy(at),
      by: h.axis.map((x) => (x ? Math.max(0, v) / h.value : 1)) as unknown as [number, number, number],
    }
  if (lifts && (picked.faces.length || picked.edges.length)) return { do: 'extrude', ...target, by }
  return { do: 'move', ...target, ...soft, by }
}

/** A grip that tells while it is held. */
function told(grip: Grip): Grip {
  change({ pulling: true })
  return {
    move: (p) => grip.move(p),
    up(p) {
      change({ pulling: false })
      grip.up(p)
    },
    cancel() {
      change({ pulling: false })
      grip.cancel()
    },
  }
}

function gripOf(h: HandleSpec, p: Pointer, b: BenchView): Grip {
  const base = editsOf(b.tool)
  const target = targetNow()
  const lifts = p.shift
  return gripHandle(h, lifts ? { ...p, shift: false } : p, b, (v, first) =>
    addEdit(editFor(h, v, lifts, h.at, target), base, first),
  )
}

/** Pulls what is picked in the plane of the picture; with Shift held at the start it is extruded. */
function pull(p: Pointer, b: BenchView, at: Vec3): Grip {
  const base = editsOf(b.tool)
  const target = targetNow()
  const lifts = p.shift
  const { reach, picked } = cageStore.getState()
  const d = b.camera.getWorldDirection(b.camera.position.clone())
  const normal: Vec3 = [d.x, d.y, d.z]
  const [x, y] = frame(normal)
  const start = p.on(at, normal)
  let first = true
  return {
    move(q) {
      const to = q.on(at, normal)
      if (!start || !to) return
      const pixel = b.pixel(at)
      const off = [0, 1, 2].map((k) => to[k] - start[k])
      const along = (e: Vec3) =>
        roundLength(e[0] * off[0] + e[1] * off[1] + e[2] * off[2], pixel, { shift: false, alt: q.alt })
      const [u, v] = [along(x), along(y)]
      if (first && !u && !v) return
      const by = tidy([0, 1, 2].map((k) => u * x[k] + v * y[k]))
      const what = lifts && (picked.faces.length || picked.edges.length) ? 'extrude' : 'move'
      addEdit({ do: what, ...target, ...(what === 'move' && reach > 0 ? { reach } : {}), by } as CageEdit, base, first)
      first = false
    },
    up: () => {},
    cancel: () => void (first || useTool.getState().undo()),
  }
}

export const cageHand: Hand = {
  hint() {
    const { picked, sort, way, cage, corners } = cageStore.getState()
    if (!cage) return 'The cage is being laid out'
    const n = picked[sort].length
    if (way === 'draw')
      return scanName()
        ? `Click four corners of a new face on the scan: ${4 - corners.length} to go`
        : 'Choose the scan that faces are drawn on'
    if (n)
      return `${plural(n, words[sort])} picked: pull an arrow, or drag the picked ${words[sort]} itself; Shift and drag extrudes; Delete takes away`
    return way === 'click'
      ? `Click ${words[sort] === 'edge' ? 'an' : 'a'} ${words[sort]} of the cage; then pull it by its arrows`
      : `Draw round the ${sort} that are meant`
  },
  move(p, b) {
    const { cage, sort, hot, through, way } = cageStore.getState()
    drawing.move(p)
    if (!cage) return false
    const h = handleAt(p, handlesNow(), b)
    if (h) {
      change({ hot: null })
      b.redraw()
      return true
    }
    const id = way === 'click' ? under(cage, sort, p, b, through) : null
    if (id !== hot) {
      change({ hot: id })
      b.redraw()
    }
    return true
  },
  down(p, b) {
    const { cage, sort, picked, through, way } = cageStore.getState()
    if (!cage) return null
    const h = handleAt(p, handlesNow(), b)
    if (h) return told(gripOf(h, p, b))
    if (way === 'draw') return null
    if (way !== 'click') return drawing.down(p, b)
    const id = under(cage, sort, p, b, through)
    // Only what is picked already is pulled: elsewhere a drag turns the view.
    if (id === null || !picked[sort].includes(id)) return null
    const at = middleOf(cage, picked)
    const grip = at && pull(p, b, at)
    if (!grip) return null
    let still = true
    return told({
      ...grip,
      move(q) {
        still &&= Math.hypot(q.screen[0] - p.screen[0], q.screen[1] - p.screen[1]) < 4
        if (!still) grip.move(q)
      },
      up(q) {
        grip.up(q)
        // A click on what is picked unpicks it.
        if (still) choose(id)
      },
    })
  },
  async click(p, b) {
    const { cage, sort, through, way } = cageStore.getState()
    if (!cage) return true
    if (way === 'draw') return corner(p)
    if (drawing.click(p, b) || way !== 'click') return true
    const id = under(cage, sort, p, b, through)
    if (id !== null) choose(id)
    return true
  },
  key(e, b) {
    if (b.tool?.kind !== cageKind) return false
    if (drawing.key(e, b)) return true
    const s = cageStore.getState()
    if (e.key === 'Escape' && s.corners.length) {
      change({ corners: s.corners.slice(0, -1) })
      b.redraw()
      return true
    }
    if (e.key === 'Escape' && s.before.length) {
      // The last pick first, then all of them.
      const last = s.before[s.before.length - 1]
      change({ picked: last, before: s.before.slice(0, -1) })
      b.redraw()
      return true
    }
    if (e.key === 'Escape' && isPicked(s.picked)) {
      change({ picked: { points: [], edges: [], faces: [] }, before: [] })
      b.redraw()
      return true
    }
    if ((e.key === 'Delete' || e.key === 'Backspace') && isPicked(s.picked)) {
      doAction('delete')
      return true
    }
    return false
  },
  leave: () => change({ hot: null }),
  Over: CageOver,
  Flat: () => (
    <>
      <DrawnShapeView drawing={drawing} />
      <CageFlat />
    </>
  ),
}

const scanName = () => useTool.getState().tool?.values.scan as string | undefined

/** A corner of the face that is being drawn, on the scan; the fourth makes the face, which faces whence it is looked at. */
async function corner(p: Pointer): Promise<boolean> {
  const hit = await p.hit()
  if (!hit || hit.name !== scanName()) return true
  const corners = [...cageStore.getState().corners, tidy(hit.point)]
  if (corners.length < 4) {
    change({ corners })
    return true
  }
  change({ corners: [] })
  const n = cross(sub(corners[2], corners[0]), sub(corners[3], corners[1]))
  const at = (dot(n, p.ray.direction) > 0 ? corners.reverse() : corners).map(tidy)
  addEdit({ do: 'face', at })
  return true
}

function choose(id: number): void {
  const { cage, sort, extent, picked } = cageStore.getState()
  if (cage) pick(toggled(picked, reached(cage, sort, id, extent), useBench.getState().pick.mode))
}
