/** What the single mending steps share: work on one mesh, compare two cheap figures, say what changed. */
import { meshBody, type MeshBody, type SourceTags } from '@/core/bodies/body'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Facts, StepResult } from '@/core/step/step'
import { findFolded } from '@/core/mesh/defects'
import { countHoles } from '@/core/mesh/scraps'

const cheap = (mesh: TriMesh) => {
  const t = buildTopology(mesh)
  return {
    triangles: triangleCount(mesh),
    openEdges: t.openEdges,
    holes: countHoles(mesh, t),
    nonManifoldEdges: t.nonManifoldEdges,
    flippedEdges: t.flippedEdges,
    pieces: findPieces(mesh, t).count,
    folded: findFolded(mesh, t).length,
  }
}

/** Tells new triangles from old ones, so that the bench can show what was added. */
export function addedTags(name: string, mesh: TriMesh, firstNew: number): SourceTags {
  const n = triangleCount(mesh)
  const source = new Uint32Array(n),
    face = new Uint32Array(n)
  for (let t = 0; t < n; t++) {
    face[t] = t
    if (t >= firstNew) source[t] = 1
  }
  return { names: [name, 'patch'], source, face }
}

/** The step's result: the changed mesh, figures before and after, and a warning for each kind of fault that grew. */
export function mendedPart(
  name: string,
  before: MeshBody,
  after: TriMesh,
  said: string,
  facts: Facts = {},
  firstNew?: number,
): StepResult {
  if (after === before.mesh) return { bodies: { [name]: before }, facts, said }
  const a = cheap(before.mesh),
    b = cheap(after)
  const words = {
    openEdges: 'open edges',
    nonManifoldEdges: 'non-manifold edges',
    flippedEdges: 'flipped edges',
    folded: 'folds',
  } as const
  const warnings = (Object.keys(words) as (keyof typeof words)[])
    .filter((k) => b[k] > a[k])
    .map((k) => `${words[k][0].toUpperCase()}${words[k].slice(1)} rose from ${a[k]} to ${b[k]}.`)
  return {
    bodies: {
      [name]: meshBody(after, firstNew === undefined ? undefined : addedTags(name, after, firstNew)),
    },
    facts: { ...facts, before: a, after: b },
    warnings,
    said,
  }
}
