/** A drawing as plane files hold it: every curve in model lengths along the plane's two directions, on a layer named after its body. */
import type { Drawing, DrawingPlane, Place } from '@/core/outline/drawing'
import { toPlane } from '@/core/outline/drawing'

export interface FlatPart {
  readonly name: string
  readonly drawing: Drawing
  /** Rows that are drawn where nothing else is. */
  readonly rows: readonly { readonly places: readonly Place[]; readonly closed: boolean }[]
}

/** The same drawing with its origin where the model's origin falls on the plane, so that drawings of parallel planes lie on each other. */
export function flattened(name: string, plane: DrawingPlane, drawing: Drawing, rows: FlatPart['rows']): FlatPart {
  const [du, dv] = toPlane(plane, [0, 0, 0])
  const move = ([u, v]: Place): Place => [u - du, v - dv]
  return {
    name,
    drawing: { points: drawing.points.map(move), curves: drawing.curves.filter((c) => !c.construction) },
    rows: drawing.curves.length ? [] : rows.map((r) => ({ ...r, places: r.places.map(move) })),
  }
}

/** A layer's name as every reader takes it: letters, digits, underscore and hyphen. */
export const layerName = (name: string): string => name.replace(/[^A-Za-z0-9_-]+/g, '_').slice(0, 31) || 'outline'
