/** Distances, windings and what is lost between small bodies, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { digest } from '@/testing/digest'
import { part } from '@/testing/parts'
import { inward, shaken, shifted, sphere, without } from '@/testing/shapes'
import {
  deviation,
  figuresOf,
  histogramOf,
  plainReferenceOf,
  referenceOf,
  sampleDeviation,
  shareBeyond,
  signedDistance,
  vertexDeviation,
} from './deviation'
import { isLoss, loyaltyFacts, loyaltyOf, loyaltyOfDeviation, loyaltyWarning, loyaltyWords } from './loyalty'
import { WindingNumber } from './winding'

const pairs: Record<string, () => Promise<[TriMesh, TriMesh]>> = {
  'a ball and itself': async () => [await part('ball'), await part('ball')],
  'a ball moved a hair': async () => [await part('ball'), shifted(await part('ball'), 0.01, 0, 0)],
  'a plate and its noisy self': async () => [await part('bored plate'), shaken(await part('bored plate'), 0.02, 3)],
  'an open box and the closed': async () => [await part('open box'), await part('rounded block')],
  'two that cross, turned inside out': async () => [await part('two that cross'), inward(await part('two that cross'))],
  'a piece of it gone': async () => {
    const whole = concatMeshes([sphere(10, 3), shifted(sphere(3, 2), 30, 0, 0)])
    return [whole, without(whole, (x) => x > 20)]
  },
  'a part inside gone': async () => [concatMeshes([sphere(10, 3), sphere(4, 2)]), sphere(10, 3)],
}

describe.each(Object.keys(pairs))('%s', (name) => {
  it('how far one is from the other, and what is lost', async () => {
    const [a, b] = await pairs[name]()
    const samples = sampleDeviation(a, referenceOf(b), 2000)
    const both = deviation(a, b, { samples: 2000, tolerance: 0.01 })
    const loyalty = loyaltyOf(a, b)
    const w = new WindingNumber(b)
    const places: [number, number, number][] = [
      [0, 0, 0],
      [3, 4, 5],
      [20, 12, 4],
      [40, 3, 1],
      [9.99, 0.1, 0.2],
    ]
    expect(
      digest({
        figures: [figuresOf(samples), figuresOf(samples, 0.02)],
        histogram: histogramOf(samples, 0.5, 11),
        beyond: [0, 0.01, 1].map((d) => shareBeyond(samples, d)),
        both: { ...both, samples: undefined },
        vertices: vertexDeviation(a, referenceOf(b)),
        signed: places.map((p) => [
          signedDistance(referenceOf(b), ...p),
          signedDistance(plainReferenceOf(b), ...p),
          signedDistance(referenceOf(b), ...p, 0.5),
        ]),
        winding: places.map((p) => [w.at(...p), w.at(...p, (t) => t % 2 === 0)]),
        loyalty,
        short: loyaltyOfDeviation(both, a, b),
        words: [
          loyaltyWords(loyalty),
          loyaltyFacts(loyalty),
          loyaltyWarning(loyalty),
          isLoss(loyaltyFacts(loyalty) as never),
        ],
      }),
    ).toMatchSnapshot()
  })
})
