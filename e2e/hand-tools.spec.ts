/** One tool at a time on shapes whose figures are known in closed form: a real click, the ghost's figures, the body after. */
import { expect, test, type Page } from './kept-browser'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { box as boxFromCorner, cylinder, shaken, shifted, sphere, without } from '@/testing/shapes'
import {
  apply,
  bringIn,
  card,
  clickAt,
  dragAlong,
  figure,
  fill,
  newJob,
  pickBody,
  pickByKind,
  settled,
  size,
  tool,
  view,
  volume,
  bodyNames,
} from './bench'

test.beforeEach(async ({ page }) => {
  await newJob(page)
})

/** A box about the origin. */
const box = (x: number, y: number, z: number, n = 1) => shifted(boxFromCorner(x, y, z, n), -x / 2, -y / 2, -z / 2)

const more = (page: Page) => card(page).getByRole('button', { name: 'More' }).click()

const undo = async (page: Page) => {
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('run-state')).toHaveText('ready')
  await settled(page)
}

/** A tube along z, open at both ends, with its foot at z. */
const tube = (radius: number, length: number, z: number) =>
  shifted(
    without(cylinder(radius, length, 48, 8), (_x, _y, h) => h < 1e-6 || h > length - 1e-6),
    0,
    0,
    z,
  )

test.describe('set down', () => {
  test('Three-touch: a face goes under, an edge along x, a corner to the origin; undo brings it back', async ({
    page,
  }) => {
    await bringIn(page, 'block', shifted(box(40, 30, 20), 7, -3, 11))
    const before = await size(page)
    await tool(page, 'Set down', 'Three-touch')
    await clickAt(page, [27, -3, 11]) // the face that looks along x
    await clickAt(page, [27, -18, 21])
    await clickAt(page, [27, 12, 21])
    await clickAt(page, [27, -18, 21])
    await expect(page.getByTestId('ghost-figures')).toContainText('Plane rms')
    await apply(page)
    await settled(page)
    // The face of 30 x 20 lies on the mat, its long edge along x: the block stands 40 high.
    await expect.poll(() => size(page)).toEqual([30, 20, 40])
    await undo(page)
    await pickBody(page, 'block')
    await expect.poll(() => size(page)).toEqual(before)
  })

  test('Line up: face to face with a gap; axes made one', async ({ page }) => {
    await bringIn(page, 'post', shifted(cylinder(6, 30, 64), 40, 25, 0))
    await bringIn(page, 'ring', shifted(tube(10, 8, 0), -20, 0, 0))
    await view(page, 'Fit')
    await tool(page, 'Set down', 'Line up')
    await clickAt(page, [40 - 3, 25 - 5.2, 10])
    await clickAt(page, [-20 + 5, -8.66, 4])
    await apply(page)
    await settled(page)
    await tool(page, 'Prove', 'Measure')
    await card(page).getByLabel('What').selectOption('diameter')
    await clickAt(page, [-20 + 3, -5.2, 28])
    expect(Number((await figure(page, 'ghost-figures', 'Measured')).replace(' mm', ''))).toBeCloseTo(12, 1)
  })

  test(
    'Match to body: a turned copy comes back to its original, with rms and a map before it is applied',
    { tag: '@long' },
    async ({ page }) => {
      const part = concatMeshes([box(60, 40, 10, 4)])
      await bringIn(page, 'one', part)
      await bringIn(page, 'two', part)
      await tool(page, 'Set down', 'Turn')
      await card(page).getByLabel('Body').selectOption('two')
      await fill(page, 'Angle', '25')
      await apply(page)
      await tool(page, 'Set down', 'Move')
      await card(page).getByLabel('Body').selectOption('two')
      await fill(page, 'By x', '12')
      await fill(page, 'By z', '5')
      await apply(page)
      await settled(page)
      await tool(page, 'Set down', 'Match to body')
      await card(page).getByLabel('Body to move').selectOption('two')
      await card(page).getByLabel('Body it is laid on').selectOption('one')
      await card(page).getByRole('button', { name: 'Ghost' }).click()
      await expect(page.getByTestId('histogram')).toBeVisible()
      expect(Number((await figure(page, 'ghost-figures', 'Rms before')).replace(' mm', ''))).toBeGreaterThan(1)
      expect(Number((await figure(page, 'ghost-figures', 'Rms$')).replace(' mm', ''))).toBeLessThan(0.01)
      await page.getByRole('button', { name: 'Show the map' }).click()
      await expect(page.getByTestId('map-legend')).toContainText('two against one')
      await apply(page)
      await settled(page)
      await pickBody(page, 'two')
      expect(await size(page)).toEqual([60, 40, 10])
    },
  )
})

test.describe('holes', () => {
  test(
    'Bridge gap joins two tubes; Widen hole eats rings; Smooth rim; the check-up counts each',
    { tag: '@long' },
    async ({ page }) => {
      await bringIn(page, 'tubes', concatMeshes([tube(10, 20, 0), tube(10, 20, 26)]))
      await expect(page.getByTestId('body-tubes')).toContainText('4 holes')
      await view(page, 'Front')
      await tool(page, 'Mend', 'Bridge gap')
      await clickAt(page, [0, -10, 19.9])
      await clickAt(page, [0, -10, 26.1])
      await expect(page.getByTestId('ghost-figures')).toContainText('Gap6 mm')
      await apply(page)
      await settled(page)
      await expect(page.getByTestId('body-tubes')).toContainText('2 holes')
      await tool(page, 'Mend', 'Smooth rim')
      await clickAt(page, [0, -10, 45.9])
      await fill(page, 'Passes', '5')
      await apply(page)
      await tool(page, 'Mend', 'Widen hole')
      await clickAt(page, [0, -10, 45.9])
      await fill(page, 'Rings', '1')
      await card(page).getByRole('checkbox', { name: 'Then close' }).check()
      await card(page).getByRole('radio', { name: 'flat' }).click()
      await apply(page)
      await settled(page)
      await expect(page.getByTestId('body-tubes')).toContainText('1 hole')
    },
  )

  test('Close part leaves the rest of the hole open; a scrap in a hole is told apart and goes with it', async ({
    page,
  }) => {
    const ball = sphere(20, 4)
    await bringIn(
      page,
      'ball',
      concatMeshes([without(ball, (_x, _y, z) => z > 12), without(ball, (_x, _y, z) => z < 19)]),
    )
    await expect(page.getByTestId('body-ball')).toContainText('1 hole')
    await tool(page, 'Mend', 'Check-up')
    await expect(page.getByTestId('check-up')).toContainText('scraps in holes', { timeout: 120_000 })
    await page.getByRole('button', { name: 'Cancel' }).click()
    await view(page, 'Top')
    await tool(page, 'Mend', 'Close part')
    const r = Math.sqrt(400 - 144)
    await clickAt(page, [0, r + 0.3, 11.5])
    await clickAt(page, [0, -r - 0.3, 11.5])
    await expect(page.getByTestId('ghost-figures')).toContainText('Rim edges closed')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-ball')).toContainText('hole')
    await undo(page)
    await pickBody(page, 'ball')
    await tool(page, 'Mend', 'Close holes')
    await expect(page.getByTestId('hole-list').getByRole('button')).toHaveCount(1)
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-ball')).toContainText('mesh · closed')
    // 4/3 pi r³ = 33 510 mm³: a ball once more.
    expect(Math.abs((await volume(page)) / ((4 / 3) * Math.PI * 8000) - 1)).toBeLessThan(0.03)
  })
})

test.describe('skin', () => {
  test(
    'Weld joins two rims that stand close; Smooth takes the noise and keeps the volume',
    { tag: '@long' },
    async ({ page }) => {
      await bringIn(page, 'tubes', concatMeshes([tube(10, 20, 0), tube(10, 20, 20.01)]))
      await expect(page.getByTestId('body-tubes')).toContainText('4 holes')
      await tool(page, 'Mend', 'Weld')
      await fill(page, 'Within', '0.05')
      // 48 vertices of one rim on 48 of the other.
      expect(Number(await figure(page, 'ghost-figures', 'Joined'))).toBe(48)
      await apply(page)
      await settled(page)
      await expect(page.getByTestId('body-tubes')).toContainText('2 holes')
      await bringIn(page, 'ball', shaken(shifted(sphere(15, 4), 40, 0, 0), 0.3))
      const before = await volume(page)
      await tool(page, 'Mend', 'Smooth')
      await card(page).getByLabel('Body', { exact: true }).selectOption('ball')
      await fill(page, 'Passes', '15')
      const moved = Number((await figure(page, 'ghost-figures', 'Moved up to')).replace(' mm', ''))
      expect(moved).toBeGreaterThan(0.1)
      expect(moved).toBeLessThan(1.5)
      await apply(page)
      await settled(page)
      await pickBody(page, 'ball')
      expect(Math.abs((await volume(page)) / before - 1)).toBeLessThan(0.02)
    },
  )
})

test.describe('walls', () => {
  test(
    "Offset by Steiner's formula, Hollow by the box inside, on a cube of 40 mm",
    { tag: '@long' },
    async ({ page }) => {
      await bringIn(page, 'cube', box(40, 40, 40, 2))
      await tool(page, 'Build', 'Offset')
      await fill(page, 'By', '2')
      await card(page).getByRole('radio', { name: 'round' }).click()
      await apply(page)
      await settled(page)
      // V + S d + M d² + 4/3 pi d³ with M = pi/4 of the edges' length: Steiner 1840.
      const steiner = 64000 + 9600 * 2 + (Math.PI / 4) * 480 * 4 + (4 / 3) * Math.PI * 8
      expect(Math.abs((await volume(page)) / steiner - 1)).toBeLessThan(0.004)
      await expect.poll(() => size(page)).toEqual([44, 44, 44])
      await undo(page)
      await pickBody(page, 'cube')
      await tool(page, 'Build', 'Hollow')
      await fill(page, 'Wall', '3')
      await more(page)
      await fill(page, 'Edge length where laid anew', '0.8')
      await apply(page)
      await settled(page)
      expect(Math.abs((await volume(page)) / (64000 - 34 ** 3) - 1)).toBeLessThan(0.004)
      // The wall is seen in the section and measured.
      await page.getByRole('button', { name: 'Section view' }).click()
      await page.getByTestId('section-panel').getByRole('button', { name: 'face', exact: true }).click()
      await clickAt(page, [0, 0, 20])
      await expect(page.getByTestId('section-panel').getByLabel('Section 1 at')).toHaveValue('19.5')
      await page.getByLabel('Place of section plane 1').fill('0')
      await page.getByRole('button', { name: 'Close the section view' }).click()
      await tool(page, 'Prove', 'Measure')
      await card(page).getByLabel('What').selectOption('wall')
      await clickAt(page, [3, 3, 20])
      expect(Number((await figure(page, 'ghost-figures', 'Measured')).replace(' mm', ''))).toBeCloseTo(3, 1)
    },
  )

  test(
    'Offset and Hollow refuse an open mesh with the reason and the fix; Thicken gives it a wall',
    { tag: '@long' },
    async ({ page }) => {
      await bringIn(page, 'shell', tube(15, 30, 0))
      await tool(page, 'Build', 'Offset')
      await card(page).getByRole('button', { name: 'Ghost' }).click()
      await expect(card(page).getByRole('alert')).toContainText('2 holes')
      await expect(card(page).getByRole('alert')).toContainText('Thicken')
      await page.getByRole('button', { name: 'Cancel' }).click()
      await tool(page, 'Build', 'Thicken')
      await fill(page, 'Thickness', '2')
      await card(page).getByRole('radio', { name: 'outside' }).click()
      await apply(page)
      await settled(page)
      await expect(page.getByTestId('body-shell')).toContainText('mesh · closed')
      // pi (17² - 15²) 30
      expect(Math.abs((await volume(page)) / (Math.PI * (17 ** 2 - 15 ** 2) * 30) - 1)).toBeLessThan(0.02)
    },
  )
})

test.describe('cutting', () => {
  test('Trim by an outline that is drawn over the view', async ({ page }) => {
    await bringIn(page, 'bar', box(60, 20, 20, 2))
    // By an outline drawn from above: what it holds goes or stays.
    await view(page, 'Top')
    await tool(page, 'Mend', 'Trim')
    await card(page).getByRole('radio', { name: 'outline' }).click()
    await dragAlong(page, [
      [-34, -16, 10],
      [-34, 16, 10],
      [-10, 16, 10],
      [-10, -16, 10],
      [-33.5, -16, 10],
    ])
    await apply(page)
    await settled(page)
    expect(Math.min(await volume(page), 24000 - (await volume(page)))).toBeGreaterThan(7500)
    expect(Math.min(await volume(page), 24000 - (await volume(page)))).toBeLessThan(8500)
  })

  test('Trim by plane, Split with a body: volumes add up', { tag: '@long' }, async ({ page }) => {
    await bringIn(page, 'bar', box(60, 20, 20, 2))
    await tool(page, 'Mend', 'Trim')
    await card(page).getByRole('radio', { name: 'both' }).click()
    await fill(page, 'Plane through x', '10')
    await fill(page, 'Side A is towards x', '1')
    await fill(page, 'Side A is towards z', '0')
    await apply(page)
    await settled(page)
    const names = await bodyNames(page)
    expect(names).toHaveLength(2)
    let sum = 0
    for (const n of names) {
      await pickBody(page, n)
      sum += await volume(page)
      await expect(page.getByTestId(`body-${n}`)).toContainText('closed')
    }
    expect(sum).toBeCloseTo(24000, -2)
    await undo(page)
    // With an exact cylinder through it.
    await tool(page, 'Build', 'Cylinder')
    await fill(page, 'Radius', '5')
    await fill(page, 'Height', '60')
    await fill(page, 'Middle of the base z', '-30')
    await apply(page)
    await tool(page, 'Mend', 'Split')
    await card(page).getByLabel('Body', { exact: true }).selectOption('bar')
    await card(page).getByLabel('Cut by').selectOption('cylinder')
    await apply(page)
    await settled(page)
    const outer = page.getByTestId('body-bar')
    await expect(outer).toContainText('closed')
    await pickBody(page, 'bar')
    const one = await volume(page)
    // 24 000 less the bore pi 25 20 = 1571, or the core itself.
    expect(Math.min(Math.abs(one - (24000 - Math.PI * 500)), Math.abs(one - Math.PI * 500))).toBeLessThan(25)
  })

  test(
    'Take apart makes bodies of pieces, Merge puts them back; Flip picked and Face outward turn one over',
    { tag: '@long' },
    async ({ page }) => {
      await bringIn(page, 'two', concatMeshes([box(20, 20, 20), shifted(box(10, 10, 10), 30, 0, 0)]))
      await tool(page, 'Mend', 'Take apart')
      await apply(page)
      await settled(page)
      const names = await bodyNames(page)
      expect(names).toHaveLength(2)
      await tool(page, 'Mend', 'Merge pieces')
      for (const n of names) await card(page).getByLabel(n, { exact: true }).check()
      await apply(page)
      await settled(page)
      await expect(page.locator('.body-row')).toHaveCount(1)
      expect(await volume(page)).toBeCloseTo(9000, -1)
      await tool(page, 'Mend', 'Flip picked')
      await page.getByRole('button', { name: 'Whole piece' }).click()
      await clickAt(page, [30, -5, 0])
      await expect(page.getByTestId('picked')).toHaveText('12 triangles')
      await apply(page)
      await settled(page)
      expect(await volume(page)).toBeCloseTo(7000, -1)
      await tool(page, 'Mend', 'Face outward')
      await apply(page)
      await settled(page)
      expect(await volume(page)).toBeCloseTo(9000, -1)
    },
  )
})

test.describe('picking and looking', () => {
  test('Polygon, Circle, by fault and by size pick what lies there, and the pick survives a change upstream', async ({
    page,
  }) => {
    const plate = box(60, 60, 6, 12)
    await bringIn(
      page,
      'plate',
      concatMeshes([
        without(plate, (x, y, z) => z > 2.9 && Math.hypot(x - 15, y - 15) < 6),
        shifted(box(1, 1, 1), 20, -20, 12),
      ]),
    )
    await view(page, 'Top')
    await tool(page, 'Mend', 'Smooth')
    await card(page).getByRole('checkbox', { name: 'The whole body' }).uncheck()
    await page.getByRole('button', { name: 'Polygon', exact: true }).click()
    for (const p of [
      [-25, -25, 3],
      [-5, -25, 3],
      [-5, -5, 3],
      [-25, -5, 3],
    ] as [number, number, number][])
      await clickAt(page, p)
    await clickAt(page, [-25, -25, 3]) // snaps shut on its first corner
    // Between -25 and -5 lie 4 x 4 squares of two triangles.
    await expect(page.getByTestId('picked')).toHaveText('32 triangles')
    await page.getByRole('button', { name: 'clear', exact: true }).click()
    await page.getByRole('button', { name: 'Circle', exact: true }).click()
    await dragAlong(page, [
      [-15, -15, 3],
      [-12, -15, 3],
      [-7, -15, 3],
    ])
    await expect(page.getByTestId('picked')).not.toHaveText('0 triangles')
    await page.getByRole('button', { name: 'clear', exact: true }).click()
    await pickByKind(page, 'along rims')
    await expect(page.getByTestId('picked')).not.toHaveText('0 triangles')
    await page.getByRole('button', { name: 'clear', exact: true }).click()
    await pickByKind(page, 'small pieces')
    await expect(page.getByTestId('picked')).toHaveText('12 triangles')
    await page.getByRole('button', { name: 'Cancel' }).click()
    await tool(page, 'Mend', 'Remove picked')
    await pickByKind(page, 'small pieces')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-plate')).toContainText('1 hole')
    expect((await size(page))[2]).toBe(6)
  })

  test('Refine to an edge length, Deviation as figures and map, Compare wiped: the shape stays', async ({ page }) => {
    await bringIn(page, 'rough', shaken(sphere(15, 4), 0.05))
    await bringIn(page, 'exact', sphere(15, 5))
    await tool(page, 'Mend', 'Refine')
    await card(page).getByLabel('Body').selectOption('rough')
    await fill(page, 'Edge length', '1.5')
    await expect(page.getByTestId('estimate')).toContainText('triangles')
    await apply(page)
    await settled(page)
    await tool(page, 'Prove', 'Deviation')
    await card(page).getByLabel('Body', { exact: true }).selectOption('rough')
    await card(page).getByLabel('Against').selectOption('exact')
    await card(page).getByRole('button', { name: 'Ghost' }).click()
    await expect(page.getByTestId('histogram')).toBeVisible()
    const most = Number((await figure(page, 'ghost-figures', 'Most')).replace(' mm', ''))
    expect(most).toBeGreaterThan(0.01)
    expect(most).toBeLessThan(0.4)
    await page.getByRole('button', { name: 'Show the map' }).click()
    await expect(page.getByTestId('map-legend')).toBeVisible()
    await page.getByRole('button', { name: 'Cancel' }).click()
    await page.getByRole('button', { name: 'Compare' }).click()
    const panel = page.getByTestId('compare-panel')
    for (const how of ['side by side', 'overlaid', 'wiped']) {
      await panel.getByRole('button', { name: how }).click()
      await expect(panel.getByRole('button', { name: how })).toHaveAttribute('aria-pressed', 'true')
    }
    await panel.getByLabel('Wipe').fill('0.25')
    await page.getByRole('button', { name: 'Close the comparison' }).click()
    await expect(panel).toHaveCount(0)
  })
})
