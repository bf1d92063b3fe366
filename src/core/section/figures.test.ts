/** Sections and edges seen of small bodies, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { normalize, type Vec3 } from '@/core/math/vec'
import { digest, outcome } from '@/testing/digest'
import { part, partNames } from '@/testing/parts'
import { facesInPlane } from './in-plane'
import { along, byGap, evenly, turned } from './plane-rows'
import { sectionLines } from './section-lines'
import { seenEdges } from './seen-edges'
import { slicerOf } from './slice'

const ways: Vec3[] = [[0, 0, 1], [1, 0, 0], normalize([0.3, -0.4, 0.7])]

describe.each(partNames)('%s', (name) => {
  it('cut by planes, and its edges from some sides', async () => {
    const mesh = await part(name)
    const slicer = slicerOf(mesh)
    expect(
      digest(
        ways.flatMap((n) => [
          ...[0, 3.3, 8].flatMap((offset) =>
            [true, false].map((fill) => {
              const section = slicer.slice(n, offset, fill)
              return [section, sectionLines(section.loops)]
            }),
          ),
          facesInPlane(mesh, n, 8),
          facesInPlane(mesh, n, 0),
          outcome(() => seenEdges(mesh, n, 25, quiet)),
          evenly([mesh], { at: [0, 0, 0], normal: n }, 4),
        ]),
      ),
    ).toMatchSnapshot()
  })
})
it('rows of planes', () => {
  const first = { at: [1, 2, 3] as Vec3, normal: [0, 0, 1] as Vec3 }
  const row: Vec3[] = Array.from({ length: 12 }, (_, i): Vec3 => [i, Math.sin(i / 2), 0.1 * i * i])
  expect(
    digest([
      byGap(first, 4, 2.5),
      turned(first, 5, { at: [0, 0, 0], normal: [0, 1, 0] }, 40),
      along(row, false, 5, () => null),
      along(row, true, 6, (p) => ({ at: p, way: [1, 0, 0] })),
    ]),
  ).toMatchSnapshot()
})
