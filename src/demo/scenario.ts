/** The Alder Reach Rowing Club workshop: the files and recipes of the demo jobs, all made here. */
import { writeStlBinary } from '@/core/formats/stl'
import { diagonal, meshBounds, transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { compose, rotation, scaling, translation } from '@/core/math/affine'
import { rangeScan } from '@/core/scan/range-scan'
import { bracketShape, gripShape } from '@/core/scan/shapes'
import type { Recipe } from '@/core/recipe/recipe'
import type { Work } from '@/core/base/work'
import { quiet } from '@/core/base/work'
import { addCrossing, addFolds } from './damage'

export interface DemoFile {
  readonly name: string
  readonly bytes: Uint8Array
}
export interface DemoJob {
  readonly key: string
  readonly recipe: Recipe
  readonly files: readonly string[]
}

/** The carved grip as a scanner gives it: about 150 000 triangles, tilted, with holes, specks, folds and a crossing. */
export function gripScan(work: Work = quiet): TriMesh {
  const part = gripShape()
  const scan = rangeScan(
    part,
    {
      stations: 14,
      resolution: 0.09,
      noise: 0.03,
      grazing: 71,
      strays: 6,
      detail: diagonal(meshBounds(part)) / 318,
      seed: 7,
    },
    work,
  )
  const folded = addFolds(scan, 9, 2.4, 1.9, 11)
  const crossed = addCrossing(folded, [-44, -9, 13], 4.5, 4)
  // The head's own frame: the part lies askew and above the table.
  return transformMesh(
    crossed,
    compose(translation([12, -8, 41]), compose(rotation([0, 1, 0], 90), rotation([0, 0, 1], 6))),
  )
}

/** The downloaded bracket: in inches, its four screw holes 0.2 inch wide. */
export async function bracketDownload(): Promise<TriMesh> {
  return transformMesh(await bracketShape({ hole: 5.08 }), scaling(1 / 25.4))
}

export async function demoFiles(work: Work = quiet): Promise<DemoFile[]> {
  return [
    { name: 'grip-scan.stl', bytes: writeStlBinary(gripScan(work)) },
    { name: 'gate-bracket.stl', bytes: writeStlBinary(await bracketDownload()) },
  ]
}

const recipe = (title: string, steps: Recipe['steps']): Recipe => ({
  format: 'glue-bench/recipe',
  version: 1,
  title,
  steps,
})

/** The whole slice as a finished job. */
export const gateAndGrip: DemoJob = {
  key: 'gate-and-grip',
  files: ['grip-scan.stl', 'gate-bracket.stl'],
  recipe: recipe('Gate and grip', [
    { id: 's1', kind: 'bring-in/file', set: { file: 'grip-scan.stl', unit: 'mm', name: 'grip' } },
    { id: 's2', kind: 'set-down/turn', set: { body: 'grip', axis: 'y', angle: -90 } },
    { id: 's3', kind: 'set-down/centre', set: { body: 'grip', x: true, y: true, z: false } },
    { id: 's4', kind: 'mend/all', set: { body: 'grip' } },
    { id: 's5', kind: 'set-down/rest', set: { body: 'grip' } },
    { id: 's6', kind: 'bring-in/file', set: { file: 'gate-bracket.stl', unit: 'inch', name: 'gate-bracket' } },
    { id: 's7', kind: 'set-down/move', set: { body: 'gate-bracket', by: [-10, -70, 0] } },
    {
      id: 's8',
      kind: 'build/edit-hole',
      set: { body: 'gate-bracket', at: [-30.46, -83, 3], action: 'resize', standard: 'M3 medium', equal: true },
    },
    {
      id: 's9',
      kind: 'build/cylinder',
      set: { name: 'pin', radius: 4, height: 60, at: [50, 0, -10], axis: [0, 0, 1] },
    },
    { id: 's10', kind: 'build/difference', set: { from: 'grip', take: ['pin'] } },
    { id: 's11', kind: 'build/block', set: { name: 'key', size: [8, 44, 4], at: [-10, -70, 5] } },
    { id: 's12', kind: 'build/cylinder', set: { name: 'bore', radius: 6.5, height: 40, at: [-10, -70, -5] } },
    { id: 's13', kind: 'build/difference', set: { from: 'key', take: ['bore'] } },
    { id: 's14', kind: 'build/union', set: { bodies: ['gate-bracket', 'key'] } },
    { id: 's15', kind: 'mend/check-up', set: { body: 'grip' } },
    { id: 's16', kind: 'send-out/file', set: { bodies: ['grip', 'gate-bracket'], file: 'gate-and-grip.3mf' } },
  ]),
}

/** The raw files, to try it oneself. */
export const tryItYourself: DemoJob = {
  key: 'try-it',
  files: ['grip-scan.stl', 'gate-bracket.stl'],
  recipe: recipe('Try it: raw scan and download', [
    { id: 't1', kind: 'bring-in/file', set: { file: 'grip-scan.stl', unit: 'mm', name: 'grip' } },
    { id: 't2', kind: 'bring-in/file', set: { file: 'gate-bracket.stl', unit: 'inch', name: 'gate-bracket' } },
    { id: 't3', kind: 'set-down/move', set: { body: 'gate-bracket', by: [-10, -80, 0] } },
  ]),
}

/** A carved tiller head out of a poor scan, made printable and light without ever leaving the mesh. */
export const tillerHead: DemoJob = {
  key: 'tiller-head',
  files: [],
  recipe: recipe('Tiller head, hollow', [
    {
      id: 'h1',
      kind: 'bring-in/practice-scan',
      set: { part: 'tiller-head', name: 'tiller-head', stations: 7, strays: 25, detail: 0.7, noise: 0.05, seed: 3 },
    },
    { id: 'h2', kind: 'mend/check-up', set: { body: 'tiller-head' } },
    { id: 'h3', kind: 'mend/specks', set: { body: 'tiller-head', by: 'share', share: 1 } },
    { id: 'h4', kind: 'mend/reskin', set: { body: 'tiller-head', edge: 0.7 } },
    { id: 'h5', kind: 'mend/smooth', set: { body: 'tiller-head', how: 'even', strength: 60, passes: 12 } },
    {
      id: 'h6',
      kind: 'mend/trim',
      set: { body: 'tiller-head', by: 'plane', at: [16, 0, 0], axis: [-1, 0, 0], keep: 'a' },
    },
    { id: 'h7', kind: 'mend/simplify', set: { body: 'tiller-head', to: 'deviation', deviation: 0.05 } },
    { id: 'h8', kind: 'build/hollow', set: { body: 'tiller-head', wall: 3, drains: [[16, 0, 0]], diameter: 5 } },
    {
      id: 'h9',
      kind: 'set-down/three-touch',
      set: { body: 'tiller-head', face: { as: 'plane', at: [16, 5, 5] }, goes: 'under' },
    },
    {
      id: 'h10',
      kind: 'prove/measure',
      set: { what: 'wall', body: 'tiller-head', from: { as: 'point', at: [0, -30, 36] } },
    },
    { id: 'h11', kind: 'mend/check-up', set: { body: 'tiller-head' } },
    { id: 'h12', kind: 'send-out/file', set: { bodies: ['tiller-head'], file: 'tiller-head.3mf' } },
  ]),
}

/** Points of the gasket: its eight joins, the centres of its rounded corners, the middle, and the four screws. */
const gasketPoints: [number, number][] = [
  ...([-25, 25, 31, 31, 25, -25, -31, -31] as const).map((x, i): [number, number] => [
    x,
    ([-20, -20, -14, 14, 20, 20, 14, -14] as const)[i],
  ]),
  [25, -14],
  [25, 14],
  [-25, 14],
  [-25, -14],
  [0, 0],
  [-23, -13],
  [23, -13],
  [23, 13],
  [-23, 13],
]

/** The bracket by outlines: its section traced whole, and a gasket drawn over it that follows two numbers of the job. */
export const bracketByOutlines: DemoJob = {
  key: 'bracket-by-outlines',
  files: ['gate-bracket.stl'],
  recipe: {
    ...recipe('Bracket by outlines', [
      { id: 'o1', kind: 'bring-in/file', set: { file: 'gate-bracket.stl', unit: 'inch', name: 'gate-bracket' } },
      {
        id: 'o2',
        kind: 'convert/section-line',
        set: { name: 'section', bodies: ['gate-bracket'], at: [0, 0, 5.5], normal: [0, 0, 1] },
      },
      { id: 'o3', kind: 'convert/trace', set: { outline: 'section', name: 'traced' } },
      {
        id: 'o4',
        kind: 'build/outline',
        set: {
          on: 'section',
          name: 'gasket',
          drawing: {
            points: gasketPoints,
            curves: [
              ...Array.from({ length: 8 }, (_, i) =>
                i % 2
                  ? { kind: 'arc', from: i, to: (i + 1) % 8, centre: 8 + (i - 1) / 2, ccw: true }
                  : { kind: 'line', from: i, to: i + 1 },
              ),
              { kind: 'circle', centre: 12, radius: 7 },
              ...[13, 14, 15, 16].map((centre) => ({ kind: 'circle', centre, radius: 2.5 })),
            ],
            constraints: [
              { kind: 'fixed', points: [12, 13, 14, 15, 16] },
              { kind: 'horizontal', curves: [0, 4] },
              { kind: 'vertical', curves: [2, 6] },
              ...Array.from({ length: 8 }, (_, i) => ({ kind: 'tangent', curves: [i, (i + 1) % 8] })),
              { kind: 'equal', curves: [1, 3, 5, 7] },
              { kind: 'equal', curves: [9, 10, 11, 12] },
            ],
            dimensions: [
              { kind: 'distance', points: [12], curves: [0], value: 'width/2 - 11', name: 'low' },
              { kind: 'distance', points: [12], curves: [4], value: 'low' },
              { kind: 'distance', points: [12], curves: [2], value: 'width/2', name: 'side' },
              { kind: 'distance', points: [12], curves: [6], value: 'side' },
              { kind: 'radius', curves: [1], value: 6 },
              { kind: 'diameter', curves: [8], value: '13 + 2*gap' },
              { kind: 'diameter', curves: [9], value: 'bore + gap' },
            ],
          },
        },
      },
      { id: 'o5', kind: 'send-out/file', set: { bodies: ['gasket'], file: 'gate-gasket.dxf', version: 'R12' } },
    ]),
    values: { bore: 3.4, gap: 0.6, width: 62 },
  },
}

export const demoJobs: readonly DemoJob[] = [gateAndGrip, tryItYourself, tillerHead, bracketByOutlines]
