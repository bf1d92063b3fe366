/** A drawing of a hundred entities while it is dragged, beside an independent solver called bare; a drawing file of 500 entities opened. */
import { Algorithm, DebugMode, make_gcs_wrapper } from '@salusoft89/planegcs'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { parseRecipe } from '@/core/recipe/recipe'
import { hashBytes } from '@/core/base/hash'
import { quiet } from '@/core/base/work'
import type { Constraint } from '@/core/outline/constraint'
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { freedomOf } from '@/core/outline/freedom'
import { drag, solve } from '@/core/outline/solve'
import { writeDxf2000 } from '@/core/formats/dxf'
import { median } from '../measure'

const held = (kind: Constraint['kind'], curves: number[], points: number[] = []): Constraint => ({
  kind,
  curves,
  points,
})

/** Rounded plates in a row, level with each other, each 20 mm from the next: eight curves each. */
export function plates(count: number): Drawing {
  const points: Place[] = [],
    curves: Curve[] = [],
    constraints: Constraint[] = []
  const dimensions: NonNullable<Drawing['dimensions']>[number][] = []
  for (let r = 0; r < count; r++) {
    const x = 20 * r,
      b = points.length,
      k = curves.length
    const [w, h, q] = [15, 10, 2]
    points.push([x + q, 0], [x + w - q, 0], [x + w, q], [x + w, h - q], [x + w - q, h], [x + q, h], [x, h - q], [x, q])
    points.push([x + w - q, q], [x + w - q, h - q], [x + q, h - q], [x + q, q])
    for (let i = 0; i < 8; i++)
      curves.push(
        i % 2
          ? { kind: 'arc', from: b + i, to: b + ((i + 1) % 8), centre: b + 8 + (i - 1) / 2, ccw: true }
          : { kind: 'line', from: b + i, to: b + i + 1 },
      )
    for (let i = 0; i < 8; i++) constraints.push(held('tangent', [k + i, k + ((i + 1) % 8)]))
    constraints.push(held('equal', [k + 1, k + 3, k + 5, k + 7]), held('horizontal', [k]), held('vertical', [k + 2]))
    if (!r) continue
    constraints.push(held('horizontal', [], [b, b - 12]))
    dimensions.push({ kind: 'distance', points: [b - 12, b], curves: [], along: 'x', value: 20 })
  }
  return { points, curves, constraints, dimensions }
}

const moves = Array.from({ length: 60 }, (_, i): Place => [13 + 0.3 * i, 10 + 0.1 * i])

/** The same drawing in the other solver, dragged by the same point. */
async function bare(d: Drawing): Promise<number[]> {
  const gcs = await make_gcs_wrapper()
  gcs.debug_mode = DebugMode.NoDebug
  d.points.forEach(([x, y], i) => gcs.push_primitive({ type: 'point', id: `p${i}`, x, y, fixed: false }))
  d.curves.forEach((c, i) => {
    const id = `c${i}`
    if (c.kind === 'line') gcs.push_primitive({ type: 'line', id, p1_id: `p${c.from}`, p2_id: `p${c.to}` })
    if (c.kind !== 'arc') return
    const m = d.points[c.centre]
    const turn = (k: number) => Math.atan2(d.points[k][1] - m[1], d.points[k][0] - m[0])
    gcs.push_primitive({
      type: 'arc',
      id,
      c_id: `p${c.centre}`,
      start_id: `p${c.from}`,
      end_id: `p${c.to}`,
      radius: 2,
      start_angle: turn(c.from),
      end_angle: turn(c.to),
    })
    gcs.push_primitive({ type: 'arc_rules', id: `r${i}`, a_id: id })
  })
  let n = 0
  const next = () => `k${n++}`
  for (const c of d.constraints ?? []) {
    const [a, b] = c.curves.map((k) => `c${k}`)
    if (c.kind === 'tangent') {
      const [l, arc] = d.curves[c.curves[0]].kind === 'line' ? [a, b] : [b, a]
      gcs.push_primitive({ type: 'tangent_la', id: next(), l_id: l, a_id: arc })
    } else if (c.kind === 'equal')
      for (const k of c.curves.slice(1))
        gcs.push_primitive({ type: 'equal_radius_aa', id: next(), a1_id: a, a2_id: `c${k}` })
    else if (c.kind === 'horizontal' && c.curves.length)
      gcs.push_primitive({ type: 'horizontal_l', id: next(), l_id: a })
    else if (c.kind === 'vertical') gcs.push_primitive({ type: 'vertical_l', id: next(), l_id: a })
    else if (c.kind === 'horizontal')
      gcs.push_primitive({ type: 'horizontal_pp', id: next(), p1_id: `p${c.points[0]}`, p2_id: `p${c.points[1]}` })
  }
  for (const c of d.dimensions ?? [])
    gcs.push_primitive({
      type: 'difference',
      id: next(),
      param1: { o_id: `p${c.points[0]}`, prop: 'x' },
      param2: { o_id: `p${c.points[1]}`, prop: 'x' },
      difference: 20,
    })
  gcs.push_sketch_param('x', moves[0][0])
  gcs.push_sketch_param('y', moves[0][1])
  gcs.push_primitive({ type: 'coordinate_x', id: next(), p_id: 'p4', x: 'x', temporary: true })
  gcs.push_primitive({ type: 'coordinate_y', id: next(), p_id: 'p4', y: 'y', temporary: true })
  const times = moves.map(([x, y]) => {
    const t = performance.now()
    gcs.set_sketch_param('x', x)
    gcs.set_sketch_param('y', y)
    gcs.solve(Algorithm.DogLeg)
    gcs.apply_solution()
    return performance.now() - t
  })
  gcs.destroy_gcs_module()
  return times
}

export async function drawingFigure(): Promise<object> {
  const start = plates(13)
  const values = start.dimensions!.map((x) => x.value as number)
  let now = solve(start, values).drawing
  const ours: number[] = []
  for (const [x, y] of moves) {
    const t = performance.now()
    const s = drag(now, values, [{ point: 4, to: [x, y] }])
    ours.push(performance.now() - t)
    if (!s.holds) throw new Error('the drawing did not hold')
    now = s.drawing
  }
  const t = performance.now()
  freedomOf(now, values)
  const freedom = performance.now() - t
  const other = await bare(start)
  return {
    entities: start.curves.length,
    drag: median(ours),
    worst: Math.max(...ours),
    bare: median(other),
    ratio: median(ours) / median(other),
    freedom,
    bar: 1.3,
    open500: await openFile(),
  }
}

/** ms to bring a DXF of 500 entities in. */
async function openFile(): Promise<number> {
  const { points, curves } = plates(63)
  const file = writeDxf2000([{ name: 'plates', drawing: { points, curves }, rows: [] }])
  const store = new MemoryStore()
  const hash = await hashBytes(file)
  await store.keepBytes(hash, file)
  const recipe = parseRecipe({
    format: 'glue-bench/recipe',
    version: 1,
    title: 'open',
    steps: [{ id: 'a', kind: 'bring-in/file', set: { file: 'plates.dxf', name: 'plates' } }],
  })
  const t = performance.now()
  const run = await evaluate(recipe, { fileHash: () => Promise.resolve(hash), store, work: quiet })
  if (!run.ok) throw new Error(run.steps[0].error?.message)
  return performance.now() - t
}
