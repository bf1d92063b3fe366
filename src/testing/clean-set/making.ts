/** A part of the set made step by step, as a recipe would: one body, and what is joined to it or cut from it. Lengths in mm. */
import type { Body, ExactBody } from '@/core/bodies/body'
import { runStep } from '../run-step'

export type Place = readonly [number, number, number]
export type Flat = readonly [number, number]
type Settings = Record<string, unknown>

/** An outline's drawing: straight sides through its corners, corners with a radius rounded by an arc, and circles as holes. */
export interface Drawn {
  readonly corners?: readonly (Flat | readonly [number, number, number])[]
  readonly circles?: readonly (readonly [number, number, number])[]
}

function drawing({ corners = [], circles = [] }: Drawn): object {
  const points: Flat[] = []
  const curves: object[] = []
  // Where two roundings meet in one place, the side between them has gone.
  const point = (x: number, y: number): number => {
    const at = points.findIndex(([a, b]) => Math.hypot(a - x, b - y) < 1e-9)
    return at >= 0 ? at : points.push([x, y]) - 1
  }
  const ends = corners.map(([x, y, r = 0], i): [number, number, number | null] => {
    const [px, py] = corners[(i + corners.length - 1) % corners.length]
    const [qx, qy] = corners[(i + 1) % corners.length]
    if (!r) {
      const n = points.push([x, y]) - 1
      return [n, n, null]
    }
    const [a, b] = [Math.hypot(px - x, py - y), Math.hypot(qx - x, qy - y)]
    const [u, v] = [
      [(px - x) / a, (py - y) / a],
      [(qx - x) / b, (qy - y) / b],
    ]
    const half = Math.acos(u[0] * v[0] + u[1] * v[1]) / 2
    const [along, out] = [r / Math.tan(half), r / Math.sin(half)]
    const m = Math.hypot(u[0] + v[0], u[1] + v[1])
    const from = point(x + along * u[0], y + along * u[1])
    const to = point(x + along * v[0], y + along * v[1])
    const centre = point(x + (out * (u[0] + v[0])) / m, y + (out * (u[1] + v[1])) / m)
    curves.push({ kind: 'arc', from, to, centre, ccw: u[0] * v[1] - u[1] * v[0] < 0 })
    return [from, to, centre]
  })
  ends.forEach(([, from], i) => {
    const [to] = ends[(i + 1) % ends.length]
    if (to !== from) curves.push({ kind: 'line', from, to })
  })
  for (const [x, y, radius] of circles) curves.push({ kind: 'circle', centre: points.push([x, y]) - 1, radius })
  return { points, curves }
}

/** One part under way. */
export class Making {
  private readonly bodies: Record<string, Body> = {}
  private count = 0

  private async run(kind: string, set: Settings): Promise<void> {
    Object.assign(this.bodies, (await runStep(kind, set, this.bodies)).bodies)
  }
  /** A body of its own. */
  async make(kind: string, set: Settings): Promise<string> {
    const name = `p${this.count++}`
    await this.run(`build/${kind}`, { name, ...set })
    return name
  }
  block = (size: Place, at: Place) => this.make('block', { size, at })
  bar = (radius: number, height: number, at: Place, axis: Place = [0, 0, 1]) =>
    this.make('cylinder', { radius, height, at, axis })
  /** An outline extruded. */
  async plate(drawn: Drawn, distance: number, set: Settings = {}, plane: Settings = {}): Promise<string> {
    const outline = await this.make('outline', { drawing: drawing(drawn), ...plane })
    return this.make('extrude', { outline, distance, ...set })
  }
  /** A half section (radius, height) turned about z. */
  async turning(corners: Drawn['corners'], set: Settings = {}): Promise<string> {
    const outline = await this.make('outline', {
      drawing: drawing({ corners }),
      at: [0, 0, 0],
      normal: [0, -1, 0],
      x: [1, 0, 0],
    })
    return this.make('revolve', { outline, at: [0, 0, 0], axis: [0, 0, 1], ...set })
  }
  join = async (first: string, ...others: string[]): Promise<string> => {
    await this.run('build/union', { bodies: [first, ...others] })
    for (const name of others) delete this.bodies[name]
    return first
  }
  cut = async (from: string, ...take: string[]): Promise<string> => {
    await this.run('build/difference', { from, take })
    for (const name of take) delete this.bodies[name]
    return from
  }
  /** Something done to a body. */
  async on(body: string, kind: string, set: Settings): Promise<string> {
    await this.run(`build/${kind}`, { body, ...set })
    return body
  }
  hole = (body: string, at: readonly Place[], diameter: number, set: Settings = {}) =>
    this.on(body, 'hole', { at, diameter, ...(set.depth === undefined ? { through: true } : {}), ...set })
  round = (body: string, radius: number, ...at: Place[]) =>
    this.on(body, 'fillet', { radius, edges: at.length ? at.map((p) => ({ at: p })) : 'all' })
  result(name: string): ExactBody {
    const body = this.bodies[name]
    if (body?.kind !== 'solid') throw new Error(`no solid "${name}"`)
    return body as ExactBody
  }
}
