/** Made-up parts and scans of them, kept as figures: demo jobs hang on them, so any change is looked at. */
import { expect, it } from '@jest/globals'
import { digest } from '@/testing/digest'
import { part } from '@/testing/parts'
import { rangeScan } from './range-scan'
import { bracketShape, bungProfile, bungShape, gripShape, heelButtonShape, plateMesh, tillerShape } from './shapes'

it('parts', async () => {
  expect(
    digest([
      gripShape(24, 16),
      tillerShape(24, 16),
      plateMesh(30, 20, 4, 3, 4),
      await bracketShape({ sides: 24 }),
      await bracketShape({ sides: 12, hole: 4 }),
      await heelButtonShape(),
      [3, 12].map(bungProfile),
      await bungShape(16),
    ]),
  ).toMatchSnapshot()
})
it('scans', async () => {
  const settings = { stations: 3, resolution: 1.2, noise: 0.02, grazing: 75, strays: 4, detail: 1.5, seed: 3 }
  expect(
    digest([
      rangeScan(await part('ball'), settings),
      rangeScan(await part('bored plate'), { ...settings, noise: 0, strays: 0, grazing: 60, seed: 9 }),
    ]),
  ).toMatchSnapshot()
})
