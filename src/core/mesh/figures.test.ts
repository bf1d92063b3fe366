/** What is told of small and of damaged meshes, kept as figures: any change to checks and indices shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { Vec3 } from '@/core/math/vec'
import { digest, outcome } from '@/testing/digest'
import { part, partNames } from '@/testing/parts'
import { awkward } from '@/testing/shapes'
import { dropBadCoordinates } from './bad-coordinates'
import { buildBoxTree, visitPairsFrom, visitSelfPairs } from './box-tree'
import { checkUp, faultCount, faultWords, holeCount } from './check-up'
import { MeshSearch } from './closest'
import { NearestInGrid, NearestPoints } from './nearest'
import { creased } from './crease'
import { findDegenerate, findDuplicates, findFolded } from './defects'
import { EditMesh } from './edit-mesh'
import { faceOutward, pieceFacts } from './orient'
import { polyhedronOf } from './polyhedron'
import { quadFigures, quadsOfFaces } from './quad-mesh'
import { countHoles, findScraps } from './scraps'
import { crossingsFrom, findSelfCrossings } from './self-crossing'
import { splitLong } from './split-long'
import { buildTopology, cornerFans, findPieces, findRims, vertexTriangles } from './topology'
import { meshArea, meshCentroid, meshVolume } from './measures'
import {
  concatMeshes,
  diagonal,
  keepTriangles,
  meshBounds,
  triangleCount,
  type TriMesh,
  boundsCentre,
  boundsSize,
  placesOf,
} from './tri-mesh'
import { vertexNormals } from './vertex-normals'
import { weldMesh, weldSoup } from './weld'

/** All that this room tells of a mesh. */
function toldOf(mesh: TriMesh) {
  const topology = buildTopology(mesh)
  const size = diagonal(meshBounds(mesh))
  const rims = findRims(mesh, topology)
  const { facts, faults } = checkUp(mesh)
  const search = new MeshSearch(mesh)
  const places: Vec3[] = [
    [0, 0, 0],
    [7, 5, 3],
    [-9, 20, 4],
  ]
  const pairs: number[][] = []
  visitSelfPairs(mesh, buildBoxTree(mesh), (s, t) => void pairs.push([s, t]))
  const from: number[] = []
  visitPairsFrom(mesh, buildBoxTree(mesh), Math.floor(triangleCount(mesh) / 2), (s, t) => void from.push(s, t))
  const soup = new Float32Array(mesh.triangles.length * 3)
  mesh.triangles.forEach((v, i) => soup.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i))
  return {
    facts,
    faults: faults.map((f) => [f.kind, f.at, f.length]),
    words: [faultCount(facts), faultWords(facts), holeCount(facts), countHoles(mesh, topology)],
    topology: { ...topology, rims, pieces: findPieces(mesh, topology) },
    fans: cornerFans(mesh, topology),
    around: vertexTriangles(mesh),
    defects: [findDegenerate(mesh), findDuplicates(mesh), findFolded(mesh, topology)],
    scraps: findScraps(mesh, topology, rims),
    crossings: findSelfCrossings(mesh),
    crossingsFrom: crossingsFrom(mesh, Math.floor(triangleCount(mesh) / 2)),
    pairs: [pairs.length, from],
    outward: outcome(() => faceOutward(mesh)),
    pieces: pieceFacts(mesh),
    measures: [meshArea(mesh), meshVolume(mesh), meshCentroid(mesh), size],
    closest: places.map((p) => [
      search.nearest(p),
      search.nearest(p, 2),
      search.first(p, [0.6, 0.8, 0]),
      search.all(p, [0, 0, 1]),
      new NearestPoints(mesh).distance(p),
      new NearestInGrid(mesh).square(...p),
    ]),
    creased: creased(mesh, 30),
    normals: vertexNormals(mesh),
    polyhedron: outcome(() => polyhedronOf(mesh, 1, size * 1e-4)),
    split: splitLong(mesh, size / 6, 4000),
    welded: weldSoup(soup),
    half: keepTriangles(
      mesh,
      Uint8Array.from({ length: triangleCount(mesh) }, (_, t) => t % 2),
    ),
    dropped: dropBadCoordinates(mesh),
  }
}

it.each(partNames)('%s', async (name) => {
  expect(digest(toldOf(await part(name)))).toMatchSnapshot()
})
it.each(Object.keys(awkward()))('%s', (name) => {
  expect(digest(toldOf(awkward()[name]))).toMatchSnapshot()
})

it('a mesh with coordinates that are no numbers, doubled and flipped triangles', async () => {
  const ball = await part('ball')
  const flipped = ball.triangles.slice()
  for (let t = 0; t < flipped.length; t += 21) [flipped[t], flipped[t + 1]] = [flipped[t + 1], flipped[t]]
  const positions = ball.positions.slice()
  positions[7] = NaN
  positions[40] = Infinity
  const bad = dropBadCoordinates({ positions, triangles: flipped })
  const all = concatMeshes([{ positions: ball.positions, triangles: flipped }, ball])
  expect(digest([bad, checkUp(all).facts, faceOutward(all), findDuplicates(all)])).toMatchSnapshot()
})

it('faces of three to five corners as quads', () => {
  const positions = Float32Array.from([0, 0, 0, 4, 0, 0, 4, 3, 1, 0, 3, 0, 2, 5, 1, 6, 5, 2])
  const all = quadsOfFaces(positions, [
    [0, 1, 2, 3],
    [3, 2, 4],
    [2, 1, 5, 4, 3],
  ])
  const figures = quadFigures(all.net)
  expect(digest([all, figures])).toMatchSnapshot()
})

describe('changed meshes', () => {
  it.each(partNames)('%s: welded, edges collapsed and turned, as a polyhedron', async (name) => {
    const mesh = await part(name)
    const b = meshBounds(mesh)
    const apart: TriMesh = {
      positions: mesh.positions.map((v, i) => v + 0.004 * Math.sin(7 * i)),
      triangles: mesh.triangles,
    }
    const two = concatMeshes([mesh, apart])
    const edit = new EditMesh(mesh)
    const done = [0, 5, 11, 23, 40].map((t) => {
      const [u, v, w] = [0, 1, 2].map((c) => mesh.triangles[(3 * t + c) % mesh.triangles.length])
      return [edit.collapse(u, v), edit.flip(v, w)]
    })
    expect(
      digest({
        bounds: [boundsCentre(b), boundsSize(b), placesOf(mesh, [0, 1, 2])],
        welded: [0.001, 0.01, 2].map((within) => weldMesh(two, within)),
        byItself: weldMesh(two),
        done,
        edited: edit.done(),
        polyhedra: [0.5, 5].flatMap((degrees) =>
          [0.001, 0.3].map((d) => outcome(() => polyhedronOf(mesh, degrees, d))),
        ),
        told: outcome(() => polyhedronOf(mesh, 1, 0.01, [[0, 1, 2]])),
      }),
    ).toMatchSnapshot()
  })
})
