/** What a quad net will be like, before it is made: a look at areas, no computation. */

export interface Expected {
  readonly quads: number
  /** Mean edge, mm. */
  readonly edge: number
  /** Seconds, to about half or double: machines and shapes differ. */
  readonly seconds: number
}

/** By what was measured: the working mesh and its map, the quads, and the triangles that are gone through. */
const [base, eachQuad, eachTriangle, hard] = [2, 3.2e-3, 2e-5, 1.4]

/**
 * @param wanted quads, or their edge in mm
 * @returns null where the body has no skin
 */
export function expectedNet(
  body: { readonly area: number; readonly triangles: number },
  wanted: { readonly count: number } | { readonly edge: number },
  hardEdges: boolean,
): Expected | null {
  if (!(body.area > 0)) return null
  const quads = 'count' in wanted ? wanted.count : body.area / wanted.edge ** 2
  if (!(quads > 0) || !Number.isFinite(quads)) return null
  const seconds = (base + eachQuad * quads + eachTriangle * body.triangles) * (hardEdges ? hard : 1)
  return { quads: Math.round(quads), edge: Math.sqrt(body.area / quads), seconds }
}
