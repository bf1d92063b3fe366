/** Outlines from a plane file: its layers together or a body each, lying on the floor. */
import type { Body, OutlineBody } from '@/core/bodies/body'
import { plural, sizeText } from '@/core/base/say'
import type { FlatLayer, FlatModel } from '@/core/formats/flat-model'
import { unitNames, unitsInMm, type Unit } from '@/core/formats/units'
import { boundsOf } from '@/core/kinds/registry'
import { outlineFigures } from '@/core/kinds/outline'
import { closeness } from '@/core/outline/crossings'
import { drawingPlane, type Curve, type Drawing, type Place } from '@/core/outline/drawing'
import { extentOf } from '@/core/outline/extent'
import { joined, renumbered } from '@/core/outline/joined'
import { transformed } from '@/core/outline/transform'
import { freeName, namer, type StepResult } from '@/core/step/step'

function together(layers: readonly FlatLayer[]): Omit<FlatLayer, 'name'> {
  const points: Place[] = [],
    curves: Curve[] = []
  for (const { drawing } of layers) {
    const base = points.length
    for (const p of drawing.points) points.push(p)
    for (const c of drawing.curves) curves.push(renumbered(c, (i) => base + i))
  }
  return { drawing: { points, curves }, rows: layers.flatMap((l) => l.rows) }
}

function outlineOf({ drawing, rows }: Omit<FlatLayer, 'name'>, factor: number): OutlineBody {
  const scaled: Drawing = factor === 1 ? drawing : transformed(drawing, [factor, 0, 0, factor, 0, 0])
  return {
    kind: 'outline',
    plane: drawingPlane([0, 0, 0], [0, 0, 1]),
    drawing: joined(scaled, extentOf(scaled) * closeness * 10),
    reference: rows.map((r) => ({
      places: Float64Array.from(r.places.flatMap(([u, v]) => [u * factor, v * factor])),
      closed: r.closed,
    })),
  }
}

/** The bodies of a plane file. `unit`: what one of its lengths is, where the maker says so. */
export function flatBodies(
  model: FlatModel,
  unit: Unit | 'auto',
  apart: boolean,
  name: string,
  names: ReadonlySet<string>,
): StepResult {
  const chosen: Unit = unit === 'auto' ? (model.unit ?? 'mm') : unit
  const factor = unit === 'auto' && model.mm !== null ? model.mm : unitsInMm[chosen]
  const bodies: Record<string, Body> = {}
  const made: OutlineBody[] = []
  const put = (n: string, b: OutlineBody) => {
    bodies[n] = b
    made.push(b)
  }
  if (apart && model.layers.length > 1) {
    const next = namer(names)
    for (const l of model.layers) put(next(l.name), outlineOf(l, factor))
  } else put(freeName(names, name), outlineOf(together(model.layers), factor))
  const bounds = made.map((b) => boundsOf(b))
  const size = [0, 1, 2].map((k) => Math.max(...bounds.map((b) => b.max[k])) - Math.min(...bounds.map((b) => b.min[k])))
  const figures = made.map(outlineFigures)
  const sum = (f: (g: (typeof figures)[number]) => number) => figures.reduce((s, g) => s + f(g), 0)
  const curves = made.reduce((s, b) => s + b.drawing.curves.length, 0)
  const references = made.reduce((s, b) => s + b.reference.length, 0)
  const loops = sum((g) => g.loops)
  return {
    bodies,
    warnings: [
      ...model.notes,
      ...(references && curves
        ? [
            `${plural(references, 'run')} of very many pieces ${references === 1 ? 'is' : 'are'} kept as reference curves to trace.`,
          ]
        : []),
    ],
    facts: {
      format: model.format,
      unit: model.mm !== null && unit === 'auto' ? 'mm' : chosen,
      stated: model.unit,
      layers: model.layers.map((l) => ({ name: l.name, curves: l.drawing.curves.length + l.rows.length })),
      curves,
      references,
      loops,
      openRuns: sum((g) => g.open),
      areas: figures.flatMap((g) => g.areas),
      size,
      sizeInUnits: Object.fromEntries(
        unitNames.map((u) => [u, size.map((v) => Number(((v / factor) * unitsInMm[u]).toPrecision(7)))]),
      ),
    },
    said: `${plural(curves + references, 'curve')}, ${plural(loops, 'closed loop')} · ${sizeText(size)}`,
  }
}
