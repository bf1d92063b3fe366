/** What the single mending steps share: work on one mesh, compare two cheap figures, say what changed. */
import { meshBody, type MeshBody, type SourceTags } from '@/core/bodies/body'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Facts, StepResult } from '@/core/step/step'
import { findDegenerate, findFolded } from '@/core/mesh/defects'
import { loyaltyFacts, loyaltyOf, loyaltyWarning, loyaltyWords, type LoyaltyFigures } from '@/core/gauge/loyalty'
import { countHoles } from '@/core/mesh/scraps'

const cheap = (mesh: TriMesh) => {
  const t = buildTopology(mesh)
  const folds = findFolded(mesh, t)
  const figures = {
    triangles: triangleCount(mesh),
    openEdges: t.openEdges,
    holes: countHoles(mesh, t),
    nonManifoldEdges: t.nonManifoldEdges,
    flippedEdges: t.flippedEdges,
    pieces: findPieces(mesh, t).count,
    folded: folds.length,
  }
  return { figures, folds }
}

/** Smaller shares than this are not worth a word on the card. */
const toldFrom = 0.0005

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

/** Triangles that are faults by themselves, which no mending has to keep. */
function unsoundOf(mesh: TriMesh, folded: readonly number[]): Uint8Array {
  const out = new Uint8Array(triangleCount(mesh))
  for (const t of findDegenerate(mesh)) out[t] = 1
  for (const t of folded) out[t] = 1
  return out
}

export interface Mending {
  readonly said: string
  readonly facts?: Facts
  /** Number of the first triangle that was added. */
  readonly firstNew?: number
  /** How loyal the result is, where the tool measured it already. */
  readonly loyalty?: LoyaltyFigures
  /** What goes was picked to go: no warning of it. */
  readonly chosen?: true
  /** Triangles were only taken out, none was made. */
  readonly gone?: true
  /** What lies inside the result went because shells were united. */
  readonly united?: boolean
}

/** The step's result: the changed mesh, figures before and after, how loyal it is, and a warning for each kind of fault that grew. */
export function mendedPart(
  name: string,
  before: MeshBody,
  after: TriMesh,
  { said, facts = {}, firstNew, loyalty, chosen, gone, united }: Mending,
): StepResult {
  if (after === before.mesh) return { bodies: { [name]: before }, facts, said }
  const { figures: a, folds } = cheap(before.mesh),
    b = cheap(after).figures
  const loyal =
    loyalty ??
    loyaltyOf(before.mesh, after, {
      unsound: unsoundOf(before.mesh, folds),
      united,
      gone,
      quick: true,
      closed: [!a.openEdges, !b.openEdges],
    })
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
    facts: { ...facts, before: a, after: b, ...loyaltyFacts(loyal) },
    warnings: [...(chosen ? [] : loyaltyWarning(loyal)), ...warnings],
    said:
      loyal.lost > toldFrom || loyal.fresh > toldFrom || loyal.inside > toldFrom
        ? `${said} · ${loyaltyWords(loyal)}`
        : said,
  }
}
