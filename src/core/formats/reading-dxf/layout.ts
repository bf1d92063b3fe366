/** Lays the entities of a DXF file into the plane, blocks in their places. */
import type { IEntity } from 'dxf-parser'
import { StepError } from '@/core/base/step-error'
import { applyFlat, composeFlat, flatIdentity, transformed, turnFlat, type Flat } from '@/core/outline/transform'
import { FlatCollector } from '../flat-model'
import { curveNames, curveOf } from './curves'
import { flat, type Entity, type Point } from './entities'

/** How deep blocks may stand in one another, and how many places may hold one. */
const deepest = 16
const mostInserts = 20_000

export interface Block {
  readonly position?: Point
  readonly entities?: readonly IEntity[]
}

/** Directions of these are told in the world, those of others seen along their own. */
const ofTheWorld = new Set(['LINE', 'POINT', 'SPLINE', 'ELLIPSE'])
const mirror: Flat = [-1, 0, 0, 1, 0, 0]
const shiftBy = (x: number, y: number): Flat => [1, 0, 0, 1, x, y]
const isPolyline = (e: Entity) =>
  (e.type === 'LWPOLYLINE' || e.type === 'POLYLINE') && !e.is3dPolygonMesh && !e.isPolyfaceMesh

export class Layout {
  readonly drawn = new FlatCollector()
  /** Entities by name that have no size or no numbers. */
  readonly bad = new Map<string, number>()
  /** Curves that stood off the plane. */
  lifted = 0
  /** Blocks that could not be placed. */
  missing = 0
  private inserts = 0

  constructor(
    private readonly blocks: ReadonlyMap<string, Block>,
    private readonly weights: ReadonlyMap<IEntity, readonly number[]>,
  ) {}

  /** Lays entities down. Throws StepError `too-large` where blocks stand in too many places. */
  lay(entities: readonly IEntity[], map: Flat = flatIdentity, layer: string | null = null, depth = 0): void {
    for (const entity of entities) {
      const e = entity as Entity
      const on = layer && (!e.layer || e.layer === '0') ? layer : (e.layer ?? '0')
      if (e.type === 'INSERT') this.insert(e, map, on, depth)
      else this.layOne(e, map, on)
    }
  }

  private insert(e: Entity, map: Flat, layer: string, depth: number): void {
    const block = this.blocks.get(e.name ?? '')
    if (!block || depth >= deepest) {
      this.missing++
      return
    }
    const base = flat(block.position ?? { x: 0, y: 0 })
    const place = flat(e.position)
    const outer = composeFlat((e.extrusionDirection?.z ?? 1) < 0 ? mirror : flatIdentity, shiftBy(place[0], place[1]))
    const columns = Math.max(1, Math.min(1000, e.columnCount ?? 1)),
      rows = Math.max(1, Math.min(1000, e.rowCount ?? 1))
    for (let i = 0; i < columns; i++)
      for (let j = 0; j < rows; j++) {
        if (++this.inserts > mostInserts)
          throw new StepError('too-large', `The file places more than ${mostInserts} blocks: that is refused.`, {
            tryThis: 'Export only the parts that are needed.',
          })
        const scaled: Flat = [e.xScale ?? 1, 0, 0, e.yScale ?? 1, i * (e.columnSpacing ?? 0), j * (e.rowSpacing ?? 0)]
        const local = composeFlat(turnFlat(e.rotation ?? 0), composeFlat(scaled, shiftBy(-base[0], -base[1])))
        this.lay(block.entities ?? [], composeFlat(map, composeFlat(outer, local)), layer, depth + 1)
      }
  }

  private layOne(e: Entity, map: Flat, layer: string): void {
    // Seen from behind, the first direction of an entity runs the other way.
    const behind = (e.extrusionDirectionZ ?? e.extrusionDirection?.z ?? 1) < 0
    const own = behind && !ofTheWorld.has(e.type) ? composeFlat(map, mirror) : map
    if (e.center?.z ?? e.vertices?.[0]?.z ?? e.controlPoints?.[0]?.z ?? 0) this.lifted++
    let done: boolean
    if (isPolyline(e)) done = this.layPolyline(e, own, layer)
    else {
      const d = curveOf(e, this.weights.get(e) ?? [])
      if (!d && !curveNames.includes(e.type)) return
      done = !!d && this.drawn.add(layer, own === flatIdentity ? d : transformed(d, own))
    }
    if (!done) this.bad.set(e.type, (this.bad.get(e.type) ?? 0) + 1)
  }

  /** Whether anything of a polyline was drawn. */
  private layPolyline(e: Entity, map: Flat, layer: string): boolean {
    const places = (e.vertices ?? []).map(flat)
    const bulges = (e.vertices ?? []).map((v) => v.bulge ?? 0)
    if (map === flatIdentity) return this.drawn.run(layer, places, bulges, !!e.shape)
    const local = new FlatCollector()
    if (!local.run(layer, places, bulges, !!e.shape)) return false
    let done = false
    for (const { drawing, rows } of local.result()) {
      done = this.drawn.add(layer, transformed(drawing, map)) || done
      for (const { places: row, closed } of rows) {
        const moved = row.map((p) => applyFlat(map, p))
        const straight = row.map(() => 0)
        done = this.drawn.run(layer, moved, straight, closed) || done
      }
    }
    return done
  }
}
