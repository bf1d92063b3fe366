/** Results that are not sound say so: conversions of folded nets, bodies that do not add up. */
import { describe, expect, it } from '@jest/globals'
import { cageBody, netBody, type ExactBody } from '@/core/bodies/body'
import { cageBlock } from '@/core/cage/shapes'
import type { QuadMesh } from '@/core/mesh/quad-mesh'
import { runStep } from '@/testing/run-step'

/** The net of a block's cage. */
const blockNet = (n: number): QuadMesh => {
  const { positions, quads } = cageBlock([30, 20, 10], [n, n, n], false)
  return { positions: Float32Array.from(positions), quads }
}

describe('Smooth solid', () => {
  it('of a sound net is sound', async () => {
    const r = await runStep('convert/smooth-solid', { body: 'n', name: 's' }, { n: netBody(blockNet(4)) })
    expect(r.facts).toMatchObject({ foldedEdges: 0, crossingFaces: 0, valid: true })
    expect(r.warnings).toEqual([])
  })
  it('of a net with a corner drawn over its neighbours is not, and says how many edges fold', async () => {
    const net = blockNet(4)
    // A corner in the middle of the top moved far over the edges of its neighbours.
    const [x, y, z] = [0, 0, 10]
    const top = Array.from({ length: net.positions.length / 3 }, (_, v) => v).find(
      (v) => net.positions[3 * v + 2] === z && net.positions[3 * v] === x && net.positions[3 * v + 1] === y,
    )!
    net.positions.set([13, 0, z], 3 * top)
    const r = await runStep('convert/smooth-solid', { body: 'n', name: 's' }, { n: netBody(net) })
    const solid = r.bodies.s as ExactBody
    expect(solid.facts.valid).toBe(false)
    expect(r.said).toMatch(/not sound/)
    expect(r.warnings!.join(' ')).toMatch(/the body is not sound/)
  })
})

describe('cages', () => {
  it('whose surface passes through itself say so, whichever step made them', async () => {
    const cage = cageBlock([30, 20, 10], [4, 4, 2], false)
    const positions = cage.positions.slice()
    // The whole right end pushed through to the left of the other one.
    for (let v = 0; v < positions.length / 3; v++) if (positions[3 * v] > 14) positions[3 * v] = -25
    const r = await runStep('set-down/move', { body: 'c', by: [1, 0, 0] }, { c: cageBody({ ...cage, positions }) })
    expect(r.warnings!.join(' ')).toMatch(/"c" has a surface that crosses itself, on \d+ faces/)
    const sound = await runStep('set-down/move', { body: 'c', by: [1, 0, 0] }, { c: cageBody(cage) })
    expect(sound.warnings ?? []).toEqual([])
  })
})
