/** The kind `mesh`: triangles, open or closed, sound or not, with where each triangle came from. */
import { z } from 'zod'
import { inColour, meshBody, type FacePart, type MeshBody } from '@/core/bodies/body'
import { badBody } from '@/core/bodies/container'
import { plural } from '@/core/base/say'
import type { Facts } from '@/core/base/facts'
import { checkUp, faultWords } from '@/core/mesh/check-up'
import { sharedAsWritten } from '@/core/mesh/as-written'
import { countHoles } from '@/core/mesh/scraps'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { meshArea, meshCentroid, meshVolume } from '@/core/mesh/measures'
import { boundsSize, meshBounds, transformMesh, triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { applyPoint, determinant, type Affine } from '@/core/math/affine'
import { length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { facePartSchema } from './exact'
import { defineKind, type FactRow } from './kind'
import { placeOf } from './place'

const exactSchema = z.array(z.array(facePartSchema).nullable())

/** Exact faces under a map that keeps shapes; null where round faces would not stay round. */
function movedFaces(faces: readonly FacePart[], map: Affine): FacePart[] | null {
  const way = (v: Vec3) => sub(applyPoint(map, v), applyPoint(map, [0, 0, 0]))
  const sizes = [way([1, 0, 0]), way([0, 1, 0]), way([0, 0, 1])].map(length)
  const factor = sizes[0]
  const skew = Math.abs(Math.abs(determinant(map)) - factor ** 3)
  if (sizes.some((l) => Math.abs(l - factor) > 1e-9 * factor) || skew > 1e-9 * factor ** 3) return null
  // A mirror turns outward normals with the body, and axes have no side.
  return faces.map((f) => ({
    ...f,
    at: applyPoint(map, f.at),
    area: f.area * factor ** 2,
    ...(f.axis ? { axis: normalize(way(f.axis)) } : {}),
    ...(f.centre ? { centre: applyPoint(map, f.centre) } : {}),
    ...(f.radius === undefined ? {} : { radius: f.radius * factor }),
  }))
}

/** Half of a mesh's edges are longer, mm; from so many triangles spread over it. */
function medianEdge({ positions: p, triangles: k }: TriMesh): number {
  const step = Math.max(1, Math.floor(k.length / 3 / 2000))
  const lengths: number[] = []
  for (let t = 0; t < k.length / 3; t += step) {
    const [a, b] = [3 * k[3 * t], 3 * k[3 * t + 1]]
    lengths.push(Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]))
  }
  return lengths.sort((a, b) => a - b)[lengths.length >> 1] ?? 0
}

export const meshKind = defineKind<MeshBody>({
  kind: 'mesh',
  title: 'mesh',
  version: 2,
  pack: ({ mesh, tags, colour }) => ({
    head: {
      ...(tags ? { names: tags.names, ...(tags.exact?.some((e) => e) ? { exact: tags.exact } : {}) } : {}),
      ...(colour ? { colour } : {}),
    },
    arrays: [
      { name: 'positions', data: mesh.positions },
      { name: 'triangles', data: mesh.triangles },
      ...(tags
        ? [
            { name: 'source', data: tags.source },
            { name: 'face', data: tags.face },
          ]
        : []),
    ],
  }),
  unpack(from) {
    const mesh = { positions: from.f32('positions'), triangles: from.u32('triangles') }
    if (mesh.positions.length % 3 || mesh.triangles.length % 3) throw badBody('corners or triangles are not whole')
    const { names } = from.head
    const colour = typeof from.head.colour === 'string' ? from.head.colour : undefined
    if (names === undefined) return inColour(meshBody(mesh), colour)
    if (!Array.isArray(names) || !names.every((n) => typeof n === 'string')) throw badBody('the head is damaged')
    const exact = from.head.exact === undefined ? undefined : exactSchema.safeParse(from.head.exact)
    if (exact && !exact.success) throw badBody('the head is damaged')
    const tags = {
      names,
      source: from.u32('source'),
      face: from.u32('face'),
      ...(exact ? { exact: exact.data } : {}),
    }
    return inColour(meshBody(mesh, tags), colour)
  },
  bounds: (b) => meshBounds(b.mesh),
  move: (b, map) => {
    const { tags } = b
    const exact = tags?.exact?.map((faces) => faces && movedFaces(faces, map))
    return Promise.resolve({
      ...b,
      mesh: transformMesh(b.mesh, map),
      ...(tags ? { tags: { ...tags, ...(exact ? { exact } : {}) } } : {}),
    })
  },
  facts({ mesh, colour }) {
    const t = buildTopology(mesh)
    const figures = {
      triangles: triangleCount(mesh),
      vertices: vertexCount(mesh),
      pieces: findPieces(mesh, t).count,
      holes: countHoles(mesh, t),
      openEdges: t.openEdges,
      nonManifoldEdges: t.nonManifoldEdges,
      volume: meshVolume(mesh),
      area: meshArea(mesh),
    }
    const sound = figures.triangles > 0 && !t.openEdges && !t.nonManifoldEdges
    const rows: FactRow[] = [
      { key: 'triangles', label: 'Triangles', value: figures.triangles, as: 'count' },
      { key: 'vertices', label: 'Vertices', value: figures.vertices, as: 'count' },
    ]
    if (figures.pieces > 1) rows.push({ key: 'pieces', label: 'Pieces', value: figures.pieces, as: 'count' })
    if (!sound)
      rows.push(
        { key: 'holes', label: 'Holes', value: figures.holes, as: 'count' },
        { key: 'openEdges', label: 'Open edges', value: figures.openEdges, as: 'count' },
      )
    if (sound) {
      rows.push({ key: 'volume', label: 'Volume', value: figures.volume, as: 'volume' })
      const centre = meshCentroid(mesh)
      if (centre) rows.push({ key: 'centre', label: 'Centre of mass', value: [...centre], as: 'place' })
    }
    rows.push({ key: 'area', label: 'Area', value: figures.area, as: 'area' })
    const bounds = meshBounds(mesh)
    return {
      ...placeOf({ min: bounds.min, size: boundsSize(bounds) }),
      sound,
      badge: sound
        ? 'closed'
        : figures.holes
          ? plural(figures.holes, 'hole')
          : t.nonManifoldEdges
            ? 'not manifold'
            : 'open',
      rows,
      figures,
      ...(colour ? { colour } : {}),
    }
  },
  draw: ({ mesh }) => ({ skin: { positions: mesh.positions, triangles: mesh.triangles } }),
  surface: ({ mesh, tags }) => Promise.resolve(tags ? { mesh, face: tags.face } : { mesh }),
  faceted: true,
  check({ mesh }, work) {
    const { facts, faults } = checkUp(mesh, work)
    return {
      facts: facts as unknown as Facts,
      faults,
      said: `${facts.closed ? 'closed' : 'open'} · faults: ${faultWords(facts)}`,
    }
  },
  flaws({ mesh }) {
    const { edges } = sharedAsWritten(mesh)
    return edges.length
      ? [
          `has ${plural(edges.length, 'edge')} that more than two triangles share once it is read back from a file, which joins corners in one place; Split non-manifold sets them apart`,
        ]
      : []
  },
  detail: ({ mesh }) => medianEdge(mesh),
  coordinates: (b) => b.mesh.positions,
})
