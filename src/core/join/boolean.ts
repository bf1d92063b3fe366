/** Union, difference and intersection of any mix of bodies. Exact with exact stays exact; with a mesh, exact bodies are faceted first. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { isMesh, meshBody, type Body, type ExactBody, type FacePart, type SourceTags } from '@/core/bodies/body'
import { kindOf, requireCapability, sizeOf } from '@/core/kinds/registry'
import { csg, type CsgKind, type CsgResult } from '@/core/join/csg'
import { combineSolids, solidDistance } from '@/core/kernels/exact/boolean'
import { booleanDiffers } from '@/core/gauge/adds-up'
import { largestSolids } from '@/core/kernels/exact/pieces'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { dot, type Vec3 } from '@/core/math/vec'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, span, type Work } from '@/core/base/work'
import { largestPieces, looseWords, solidsOf } from './loose-pieces'
import { StepError } from '@/core/base/step-error'

export interface Operand {
  readonly name: string
  readonly body: Body
}

export interface Joined {
  readonly body: Body
  readonly facts: Record<string, number | string | boolean>
  readonly warnings: string[]
}

/** Chord tolerance from the size of all bodies together: a ten-thousandth of the diagonal, 0.002 to 0.05 mm. */
export function defaultChord(operands: readonly Operand[]): number {
  const reach = Math.max(...operands.map(({ body }) => Math.hypot(...sizeOf(body))))
  return Math.min(0.05, Math.max(0.002, 1e-4 * reach))
}

/** Names the first hole of a mesh that must be closed and is not. */
export function requireClosed(name: string, mesh: TriMesh): void {
  if (!triangleCount(mesh)) throw new StepError('empty', `"${name}" holds no triangles.`, { where: { body: name } })
  const topology = buildTopology(mesh)
  if (topology.openEdges) {
    const rims = findRims(mesh, topology)
    const longest = rims.reduce((a, b) => (b.halfEdges.length > a.halfEdges.length ? b : a))
    const at = vertex(mesh, longest.vertices[0])
    throw new StepError(
      'not-closed',
      `"${name}" is open: ${rims.length} ${rims.length === 1 ? 'hole' : 'holes'}, the longest with ${longest.halfEdges.length} edges at ${at.map((v) => v.toFixed(1)).join(', ')}.`,
      { where: { body: name, point: at }, tryThis: 'Run Mend all or Close holes on it first.' },
    )
  }
  if (topology.nonManifoldEdges || topology.flippedEdges)
    throw new StepError(
      'not-closed',
      `"${name}" has ${topology.nonManifoldEdges} non-manifold and ${topology.flippedEdges} flipped edges, so its inside is not clear.`,
      { where: { body: name }, tryThis: 'Run Mend all on it first.' },
    )
}

/** 0, 1, 2, ... */
function counting(n: number): Uint32Array {
  const out = new Uint32Array(n)
  for (let i = 0; i < n; i++) out[i] = i
  return out
}

interface Faceted {
  mesh: TriMesh
  tags: SourceTags
}

async function asMesh({ name, body }: Operand, chord: number): Promise<Faceted> {
  const kind = requireCapability(name, body, 'surface')
  const { mesh, face } = await kind.surface!(body, chord)
  if (isMesh(body) && body.tags) return { mesh, tags: body.tags }
  const n = triangleCount(mesh)
  const exact = kind.exact?.(body).parts.faces
  return {
    mesh,
    tags: {
      names: [name],
      source: new Uint32Array(n),
      face: face ?? counting(n),
      ...(exact ? { exact: [exact] } : {}),
    },
  }
}

/** The exact form of every operand, or null when one of them has none. */
const allExact = (operands: readonly Operand[]): ExactBody[] | null => {
  const out = operands.flatMap(({ body }) => kindOf(body).exact?.(body) ?? [])
  return out.length === operands.length ? out : null
}

/** Source body and face of each result triangle, carried through from the inputs. */
function carryTags(result: CsgResult, inputs: readonly Faceted[]): SourceTags {
  const names: string[] = []
  const exact: (readonly FacePart[] | null)[] = []
  const shift = inputs.map(({ tags }) =>
    tags.names.map((n, i) => {
      const own = tags.exact?.[i] ?? null
      // Two bodies of one name are one only while their faces are the same ones.
      const at = names.findIndex((m, k) => m === n && (exact[k] === own || !own || !exact[k]))
      if (at >= 0) {
        exact[at] ??= own
        return at
      }
      exact.push(own)
      return names.push(n) - 1
    }),
  )
  const n = result.source.length
  const source = new Uint32Array(n),
    face = new Uint32Array(n)
  for (let t = 0; t < n; t++) {
    const i = result.source[t],
      { tags } = inputs[i],
      k = result.triangle[t]
    source[t] = shift[i][tags.source[k]]
    face[t] = tags.face[k]
  }
  return { names, source, face, ...(exact.some((e) => e) ? { exact } : {}) }
}

/** Pieces of a sound closed mesh, by the vertices its triangles share. */
function piecesOf(mesh: TriMesh): number {
  const k = mesh.triangles
  const joined = new DisjointSets(mesh.positions.length / 3)
  let count = mesh.positions.length / 3
  for (let i = 0; i < k.length; i += 3) for (let c = 1; c < 3; c++) if (joined.unite(k[i + c], k[i])) count--
  return count
}

export interface JoinChoice {
  /** Of facets, where bodies with and without exact faces meet, mm; left out: from the size. */
  readonly chord?: number
  /** Whoever asks knows how the bodies lie: no sign is looked for that they miss each other. */
  readonly knowing?: boolean
  /** Of a difference only as many pieces stay as there were, the largest. */
  readonly dropLoose?: boolean
}

const unchanged = (words: string) =>
  new StepError('nothing-changed', words, { tryThis: 'Move one of them, or leave the step out.' })

/** The bodies after the first, in words. */
const others = (operands: readonly Operand[]): string =>
  operands
    .slice(1)
    .map((o) => `"${o.name}"`)
    .join(' and ')

/** Refuses a join or cut after which the first body is as it was: `same`. */
function requireChange(kind: CsgKind, operands: readonly Operand[], same: boolean): void {
  if (kind === 'intersection' || !same) return
  const many = operands.length > 2
  throw unchanged(
    kind === 'difference'
      ? `${others(operands)} ${many ? 'do' : 'does'} not cut "${operands[0].name}": they do not overlap.`
      : `${others(operands)} ${many ? 'add' : 'adds'} nothing to "${operands[0].name}": ${many ? 'they lie' : 'it lies'} wholly inside.`,
  )
}

/** A boolean of bodies that all have an exact shape; see `joinBodies`. */
async function joinExact(
  kind: CsgKind,
  operands: readonly Operand[],
  solids: readonly ExactBody[],
  { knowing, dropLoose }: JoinChoice,
  work: Work,
): Promise<Joined> {
  const warnings: string[] = []
  work.progress(0.1, 'exact boolean')
  const whole = await combineSolids(kind, solids, span(work, 0.1, 0.9))
  if (solids.some((b) => b.kind === 'sheet')) return { body: whole, facts: exactFacts(whole, solids[0]), warnings }
  const wrong = booleanDiffers(
    kind,
    solids.map((b) => b.facts.volume),
    whole.facts.volume,
  )
  if (wrong) warnings.push(wrong)
  if (!knowing) {
    const { volume } = solids[0].facts
    requireChange(kind, operands, Math.abs(whole.facts.volume - volume) <= 1e-9 * volume)
    warnings.push(...(await contactWarnings(kind, operands, solids, whole.facts.volume, whole.facts.pieces)))
  }
  const before = solids[0].facts.pieces
  const loose = kind === 'difference' ? Math.max(0, whole.facts.pieces - before) : 0
  if (loose) warnings.push(looseWords(loose, !!dropLoose))
  const body = loose && dropLoose ? await largestSolids(whole, before) : whole
  return { body, facts: { ...exactFacts(body, solids[0]), ...(loose ? { loose } : {}) }, warnings }
}

/**
 * Union, difference (all later ones from the first) or intersection of bodies of any kind that has a skin: exact among exact ones, else on
 * facets within `chord` mm. `knowing`: whoever asks knows how the bodies lie, and looks for no sign that they miss each other. Throws StepError naming the body and what is wrong with it, `empty-result` when nothing is left.
 */
export async function joinBodies(
  kind: CsgKind,
  operands: readonly Operand[],
  { chord, knowing, dropLoose }: JoinChoice,
  work: Work,
): Promise<Joined> {
  const faceted = operands.every((o) => kindOf(o.body).faceted)
  const tolerance = faceted ? 0 : (chord ?? defaultChord(operands))
  const warnings: string[] = []
  const solids = allExact(operands)
  if (solids) return joinExact(kind, operands, solids, { knowing, dropLoose }, work)
  const inputs: Faceted[] = []
  for (const [i, o] of operands.entries()) {
    work.progress((0.4 * i) / operands.length, `preparing ${o.name}`)
    checkStop(work)
    inputs.push(await asMesh(o, tolerance))
  }
  work.progress(0.4, kind)
  let result = await csg(
    kind,
    inputs.map(({ mesh }, i) => ({ name: operands[i].name, mesh })),
  ).catch((error: unknown) => {
    // The library only says that an input is no solid; our own look names the hole.
    inputs.forEach(({ mesh }, i) => requireClosed(operands[i].name, mesh))
    throw error
  })
  checkStop(work)
  let volume = meshVolume(result.mesh)
  // Bodies that only touch leave a skin without room: twice the volume over the area is its thickness.
  const thin = 1e-6 * Math.max(...operands.map(({ body }) => Math.hypot(...sizeOf(body))))
  if (2 * volume <= thin * meshArea(result.mesh)) {
    throw new StepError(
      'empty-result',
      kind === 'intersection'
        ? `${operands.map((o) => `"${o.name}"`).join(' and ')} have no room in common${triangleCount(result.mesh) ? ': they only touch' : ''}.`
        : `"${operands[0].name}" would be cut away whole.`,
      { tryThis: 'Check where the bodies stand.' },
    )
  }
  // Exact bodies are cut by their facets, which are less by their chord.
  const wrong = booleanDiffers(kind, result.volumes, volume)
  if (wrong) warnings.push(wrong)
  const missed = operands.map((_, i) => i > 0 && !touched(result, i))
  if (!knowing) requireChange(kind, operands, missed.slice(1).every(Boolean))
  if (kind === 'difference')
    warnings.push(...missedWarnings(operands, missed), ...blindWarnings(operands, inputs, result))
  const before = kind === 'difference' ? solidsOf(inputs[0].mesh) : Infinity
  const loose = kind === 'difference' ? Math.max(0, solidsOf(result.mesh) - before) : 0
  if (loose) warnings.push(looseWords(loose, !!dropLoose))
  if (loose && dropLoose) {
    result = largestPieces(result, before)
    volume = meshVolume(result.mesh)
  }
  const pieces = piecesOf(result.mesh)
  if (kind === 'union') {
    const sum = result.volumes.reduce((s, v) => s + v, 0)
    if (
      operands.length > 1 &&
      Math.abs(volume - sum) < 1e-7 * Math.abs(sum) &&
      pieces >= inputs.reduce((s, m) => s + piecesOf(m.mesh), 0)
    )
      warnings.push(
        `The result is still ${pieces} pieces: the bodies do not overlap. Bodies that only touch print as separate parts; overlap them by 1 mm or more.`,
      )
  }
  const body = meshBody(result.mesh, carryTags(result, inputs))
  return {
    body,
    warnings,
    facts: {
      exact: false,
      ...(faceted ? {} : { chordToleranceMm: tolerance }),
      volumeBefore: kindOf(operands[0].body).exact?.(operands[0].body).facts.volume ?? result.volumes[0],
      volume,
      triangles: triangleCount(result.mesh),
      pieces,
      ...(loose ? { loose } : {}),
    },
  }
}

const exactFacts = (body: ExactBody, first: ExactBody) => ({
  exact: true,
  volumeBefore: first.facts.volume,
  volume: body.facts.volume,
  faces: body.facts.faces,
})

/** Whether a triangle of an operand shows in the result. */
const touched = (result: CsgResult, operand: number): boolean => result.source.includes(operand)

/** What is said of cutters of which nothing shows in the result. */
const missedWarnings = (operands: readonly Operand[], missed: readonly boolean[]): string[] =>
  operands.flatMap((o, i) =>
    missed[i] ? [`"${o.name}" does not cut "${operands[0].name}": they do not overlap.`] : [],
  )

/** A cutter of which an end cap shows in the result did not pass right through. */
function blindWarnings(operands: readonly Operand[], inputs: readonly Faceted[], result: CsgResult): string[] {
  const out: string[] = []
  operands.slice(1).forEach((o, i) => {
    const pin = kindOf(o.body).exact?.(o.body).facts
    if (pin?.faceKinds.cylinder !== 1 || pin.faces !== 3) return
    const { tags, mesh } = inputs[i + 1]
    const faces = new Set<number>()
    for (let t = 0; t < result.source.length; t++)
      if (result.source[t] === i + 1) faces.add(tags.face[result.triangle[t]])
    // Of a cylinder's three faces the round one has the most triangles in its facets by normal spread; the caps are flat.
    const flat = flatFaces(mesh, tags)
    const caps = [...faces].filter((f) => flat.has(f)).length
    if (caps && faces.size > caps)
      out.push(
        `"${o.name}" does not pass right through "${operands[0].name}": the cut ends inside. Make it longer if a through hole is meant.`,
      )
  })
  return out
}

function flatFaces(mesh: TriMesh, tags: SourceTags): Set<number> {
  const normals = new Map<number, [number, number, number] | null>()
  for (let t = 0; t < triangleCount(mesh); t++) {
    const [a, b, c] = [0, 1, 2].map((k) => vertex(mesh, mesh.triangles[3 * t + k]))
    const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]],
      v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]]
    const n: [number, number, number] = [
      u[1] * v[2] - u[2] * v[1],
      u[2] * v[0] - u[0] * v[2],
      u[0] * v[1] - u[1] * v[0],
    ]
    const l = Math.hypot(...n) || 1
    const f = tags.face[t],
      have = normals.get(f)
    if (have === undefined) normals.set(f, [n[0] / l, n[1] / l, n[2] / l])
    else if (have && have[0] * n[0] + have[1] * n[1] + have[2] * n[2] < 0.999 * l) normals.set(f, null)
  }
  return new Set([...normals].filter(([, n]) => n).map(([f]) => f))
}

async function contactWarnings(
  kind: CsgKind,
  operands: readonly Operand[],
  solids: readonly ExactBody[],
  volume: number,
  pieces: number,
): Promise<string[]> {
  const out: string[] = []
  const [first, ...tools] = solids
  if (kind === 'union') {
    const sum = solids.reduce((s, o) => s + o.facts.volume, 0)
    // What came together in faces that fall together is one body.
    if (Math.abs(volume - sum) < 1e-9 * sum && pieces > 1) {
      const gap = solids.length === 2 ? await solidDistance(first, tools[0]) : 0
      out.push(
        gap > 1e-7
          ? `The bodies stand ${gap.toFixed(3)} mm apart: the result is separate parts.`
          : 'The bodies only touch. Overlap them by 1 mm or more for a sound joint in print.',
      )
    }
  }
  if (kind === 'difference') {
    for (const [i, tool] of tools.entries()) {
      if (tool.facts.faceKinds.cylinder === 1 && tool.facts.faces === 3) {
        const common = await combineSolids('intersection', [first, tool]).catch(() => null)
        if (common && !out.length && reachesEnd(tool, common))
          out.push(
            `"${operands[i + 1].name}" does not pass right through "${operands[0].name}": the cut ends inside or flush. Make it longer if a through hole is meant.`,
          )
      }
    }
  }
  return out
}

/** Whether what a cylinder takes away runs up to one of its ends. */
function reachesEnd(tool: ExactBody, common: ExactBody): boolean {
  const { positions, normals, triangles, face } = tool.display
  // A flat end has one normal; the round wall's corners differ.
  const flat = new Map<number, Vec3 | null>()
  for (let i = 0; i < triangles.length; i++) {
    const f = face[(i / 3) | 0],
      v = 3 * triangles[i],
      have = flat.get(f)
    const n: Vec3 = [normals[v], normals[v + 1], normals[v + 2]]
    if (have === undefined) flat.set(f, n)
    else if (have && dot(have, n) < 0.999) flat.set(f, null)
  }
  const axis = [...flat.values()].find((n) => n !== null)
  if (!axis) return false
  const extent = (p: Float32Array) => {
    let lo = Infinity,
      hi = -Infinity
    for (let i = 0; i < p.length; i += 3) {
      const d = p[i] * axis[0] + p[i + 1] * axis[1] + p[i + 2] * axis[2]
      lo = Math.min(lo, d)
      hi = Math.max(hi, d)
    }
    return { lo, hi }
  }
  const whole = extent(positions),
    part = extent(common.display.positions)
  const near = 1e-5 * (1 + whole.hi - whole.lo)
  return part.lo - whole.lo < near || whole.hi - part.hi < near
}
