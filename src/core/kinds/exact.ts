/** What the kinds `solid` and `sheet` share: exact faces and edges with lasting names, shown by facets. */
import { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import type { Facts } from '@/core/base/facts'
import { num, plural, sizeText } from '@/core/base/say'
import {
  curveKinds,
  surfaceKinds,
  type EdgePart,
  type ExactBody,
  type FacePart,
  type SolidFacts,
} from '@/core/bodies/body'
import { badBody, type Unpacked } from '@/core/bodies/container'
import { facetsDisagree } from '@/core/gauge/facets-agree'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { transformSolid } from '@/core/kernels/exact/transform'
import type { Affine } from '@/core/math/affine'
import { dot, type Vec3 } from '@/core/math/vec'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { meshBounds } from '@/core/mesh/tri-mesh'
import { defineKind, type FactRow, type KindDefinition } from './kind'
import { partsOf, resolvePart } from './parts'
import { placeOf } from './place'

const triple = z.tuple([z.number(), z.number(), z.number()])
const factsSchema = z.object({
  pieces: z.number(),
  faces: z.number(),
  edges: z.number(),
  valid: z.boolean(),
  closed: z.boolean(),
  faceKinds: z.record(z.enum(surfaceKinds), z.number()),
  size: triple,
  min: triple,
  volume: z.number(),
  area: z.number(),
  centre: triple.optional(),
})
/** One exact face as it is kept. */
export const facePartSchema = z.object({
  name: z.string(),
  shape: z.enum(surfaceKinds),
  at: triple,
  area: z.number(),
  axis: triple.optional(),
  centre: triple.optional(),
  radius: z.number().optional(),
})
const partsSchema = z.object({
  faces: z.array(facePartSchema),
  edges: z.array(
    z.object({
      name: z.string(),
      shape: z.enum(curveKinds),
      at: triple,
      length: z.number(),
      faces: z.array(z.number()),
      radius: z.number().optional(),
      axis: triple.optional(),
      centre: triple.optional(),
    }),
  ),
})

/** Version 1 knew no parts: its faces are told by number, and its edges by where one line ends and the next begins. */
function partsOfOldBody(
  facts: SolidFacts,
  face: Uint32Array,
  lines: Float32Array,
): { parts: ExactBody['parts']; edge: Uint32Array } {
  const edge = new Uint32Array(lines.length / 6)
  let n = -1
  for (let s = 0; s < edge.length; s++) {
    const joins = s > 0 && [0, 1, 2].every((k) => lines[6 * s + k] === lines[6 * s - 3 + k])
    if (!joins) n++
    edge[s] = n
  }
  const count = face.reduce((m, f) => Math.max(m, f + 1), facts.faces)
  const faces = Array.from({ length: count }, (_, i): FacePart => ({
    name: `face ${i + 1}`,
    shape: 'other',
    at: [0, 0, 0],
    area: 0,
  }))
  const edges = Array.from({ length: n + 1 }, (_, i): EdgePart => ({
    name: `edge ${i + 1}`,
    shape: 'other',
    at: [0, 0, 0],
    length: 0,
    faces: [],
  }))
  return { parts: { faces, edges }, edge }
}

/** @throws StepError `uneven-scale` for a map that would turn round faces oval */
function requireEven(map: Affine): void {
  const rows: Vec3[] = [
    [map[0], map[1], map[2]],
    [map[4], map[5], map[6]],
    [map[8], map[9], map[10]],
  ]
  const l = rows.map((r) => Math.hypot(...r))
  const skew = Math.max(
    Math.abs(dot(rows[0], rows[1])),
    Math.abs(dot(rows[1], rows[2])),
    Math.abs(dot(rows[0], rows[2])),
  )
  if (Math.max(...l) - Math.min(...l) > 1e-9 * Math.max(...l) || skew > 1e-9 * l[0] * l[0])
    throw new StepError(
      'uneven-scale',
      'An exact body can only be scaled evenly: its round faces would not stay round.',
      { tryThis: 'Use the same factor along x, y and z.' },
    )
}

/** What the readout tells of an exact body. */
function rowsOf(f: SolidFacts, label: string | undefined): FactRow[] {
  const kinds = Object.entries(f.faceKinds)
    .filter(([, n]) => n)
    .map(([k, n]) => `${n} ${k}`)
  return [
    { key: 'faces', label: 'Faces', value: f.faces, as: 'count' },
    { key: 'faceKinds', label: 'Kinds', value: kinds.join(', '), as: 'words' },
    ...(f.pieces > 1 ? [{ key: 'pieces', label: 'Pieces', value: f.pieces, as: 'count' } as const] : []),
    ...(f.closed ? [{ key: 'volume', label: 'Volume', value: f.volume, as: 'volume' } as const] : []),
    ...(f.closed && f.centre
      ? [{ key: 'centre', label: 'Centre of mass', value: [...f.centre], as: 'place' } as const]
      : []),
    { key: 'area', label: 'Area', value: f.area, as: 'area' },
    ...(label ? [{ key: 'label', label: 'In its file', value: label, as: 'words' } as const] : []),
  ]
}

/** A body from its packed head and arrays; bodies of version 1 tell no parts. */
function unpacked(kind: ExactBody['kind'], from: Unpacked, version: number): ExactBody {
  const { head } = from
  const facts = factsSchema.safeParse(head.facts)
  if (!facts.success) throw badBody('the head is damaged')
  const lines = from.f32('lines'),
    face = from.u32('face')
  let parts: ExactBody['parts'], edge: Uint32Array
  if (version < 2) ({ parts, edge } = partsOfOldBody(facts.data, face, lines))
  else {
    const read = partsSchema.safeParse(head.parts)
    if (!read.success) throw badBody('the head is damaged')
    parts = read.data
    edge = from.u32('edge')
  }
  return {
    kind,
    brep: new TextDecoder().decode(from.u8('brep')),
    facts: facts.data,
    tolerance: typeof head.tolerance === 'number' ? head.tolerance : 0,
    display: {
      positions: from.f32('positions'),
      normals: from.f32('normals'),
      triangles: from.u32('triangles'),
      face,
      lines,
      edge,
    },
    parts,
    ...(typeof head.label === 'string' ? { label: head.label } : {}),
    ...(typeof head.colour === 'string' ? { colour: head.colour } : {}),
  }
}

const definition = (kind: ExactBody['kind']): KindDefinition<ExactBody> => ({
  kind,
  title: kind,
  version: 5,
  pack: (b) => ({
    head: {
      facts: b.facts,
      tolerance: b.tolerance,
      parts: b.parts,
      ...(b.label ? { label: b.label } : {}),
      ...(b.colour ? { colour: b.colour } : {}),
    },
    arrays: [
      { name: 'positions', data: b.display.positions },
      { name: 'normals', data: b.display.normals },
      { name: 'triangles', data: b.display.triangles },
      { name: 'face', data: b.display.face },
      { name: 'lines', data: b.display.lines },
      { name: 'edge', data: b.display.edge },
      { name: 'brep', data: new TextEncoder().encode(b.brep) },
    ],
  }),
  unpack: (from, version) => unpacked(kind, from, version),
  bounds({ facts: { min, size } }) {
    return { min: [...min], max: [min[0] + size[0], min[1] + size[1], min[2] + size[2]] }
  },
  move(b, map) {
    requireEven(map)
    return transformSolid(b, map)
  },
  facts({ facts: f, display, label, colour }) {
    const sound = f.valid && (kind === 'sheet' || f.closed)
    const rows = rowsOf(f, label)
    return {
      ...placeOf(f),
      sound,
      badge: !f.valid ? 'not valid' : f.closed ? 'closed' : plural(f.faces, 'face'),
      rows,
      figures: {
        faces: f.faces,
        edges: f.edges,
        pieces: f.pieces,
        triangles: display.triangles.length / 3,
        volume: f.volume,
        area: f.area,
      },
      ...(colour ? { colour } : {}),
      ...(label ? { label } : {}),
    }
  },
  draw: ({ display: d }) => ({
    skin: { positions: d.positions, triangles: d.triangles, normals: d.normals, part: d.face },
    lines: { points: d.lines, part: d.edge },
  }),
  surface: (b, chord) => facetSolid(b, chord),
  exact: (b) => b,
  parts: { list: partsOf, resolve: resolvePart },
  check: ({ facts: f }) => ({
    facts: { ...f } as unknown as Facts,
    faults: [],
    said: f.valid && f.closed ? 'exact, closed, valid' : f.valid ? 'exact, valid, open' : 'not valid',
  }),
  flaws: flawsOfExact,
  detail: smallest,
})

/** Whether exact figures and facets tell of one body. */
function flawsOfExact({ facts, display, tolerance }: ExactBody): string[] {
  // Bodies that older versions kept do not say how fine their facets are.
  if (!(tolerance > 0)) return []
  const mesh = { positions: display.positions, triangles: display.triangles }
  const closed = facts.closed && facts.volume > 0
  const apart = facetsDisagree(
    { volume: closed ? facts.volume : 0, area: facts.area },
    { volume: meshVolume(mesh), area: meshArea(mesh) },
    tolerance,
  )
  const { min, max } = meshBounds(mesh)
  const off = Math.max(
    ...[0, 1, 2].flatMap((k) => [Math.abs(min[k] - facts.min[k]), Math.abs(max[k] - facts.min[k] - facts.size[k])]),
  )
  return [
    ...(apart ? [`does not add up: ${apart}`] : []),
    ...(off > 2 * tolerance + 1e-6 * Math.hypot(...facts.size)
      ? [`measures ${sizeText(facts.size)}, and its facets reach up to ${num(off, 3)} mm less or more`]
      : []),
  ]
}

/** The shortest edge and the smallest radius, mm. */
const smallest = ({ parts, facts }: ExactBody): number =>
  Math.min(
    ...facts.size.filter((l) => l > 0),
    ...parts.edges.flatMap((e) => (e.length > 0 ? [e.length] : [])),
    ...parts.faces.flatMap((f) => (f.radius ? [f.radius] : [])),
  )

export const solidKind = defineKind(definition('solid'))
export const sheetKind = defineKind(definition('sheet'))
