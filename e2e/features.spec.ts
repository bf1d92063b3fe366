/** Exact features on the bench: drawn, dragged out, rounded, hollowed, lettered; on solids and on meshes. */
import { expect, test, type Page } from './kept-browser'
import {
  apply,
  bringIn,
  card,
  figureNumber,
  fill,
  newJob,
  pickBody,
  screenAt,
  settled,
  tool,
  touchAt,
  way,
} from './bench'
import { box } from '@/testing/shapes'

const volume = (page: Page, of: number, digits = 2) =>
  expect.poll(() => figureNumber(page, 'Volume'), { timeout: 120_000 }).toBeCloseTo(of, digits)

test('a drawn plate is dragged out, its bore picked and cut, its top rounded and hollowed; a late change carries through', async ({
  page,
}) => {
  await newJob(page)
  await tool(page, 'Build', 'Outline')
  await way(page, 'Draw', 'Rectangle')
  await touchAt(page, [-20, -10, 0])
  const [u, v] = await screenAt(page, [10, 8, 0])
  await page.mouse.move(u, v)
  await page.keyboard.type('40 24')
  await page.keyboard.press('Enter')
  await way(page, 'Draw', 'Circle')
  await touchAt(page, [-8, 2, 0])
  const [s, t] = await screenAt(page, [-3, 2, 0])
  await page.mouse.move(s, t)
  await page.keyboard.type('6')
  await page.keyboard.press('Enter')
  await apply(page)
  await settled(page)
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  // All areas that are no holes stand ready; the arrow's number is typed over.
  await tool(page, 'Build', 'Extrude')
  await expect(card(page).getByLabel('Outline')).toHaveValue('outline')
  await fill(page, 'Distance', '10')
  await volume(page, (40 * 24 - 9 * Math.PI) / 100) // cm³
  // The round area alone, picked by a click, then given back by another.
  await touchAt(page, [-6, 2, 0])
  await volume(page, 90 * Math.PI, 0)
  await touchAt(page, [-6, 3, 0])
  await volume(page, (40 * 24 - 9 * Math.PI) / 100)
  await fill(page, 'Name', 'plate')
  await apply(page)
  await settled(page)
  // Two edges of the top by clicks; too large a radius is answered with one that works.
  await tool(page, 'Build', 'Fillet')
  await touchAt(page, [20, 2, 10])
  await expect(card(page).getByRole('button', { name: /plate\/side 2 \| plate\/top/ })).toBeVisible()
  await fill(page, 'Radius', '30')
  await expect(card(page).getByRole('alert')).toContainText('up to')
  await card(page)
    .getByRole('button', { name: /^Take / })
    .click()
  await expect(card(page).getByRole('alert')).toHaveCount(0)
  await fill(page, 'Radius', '2')
  // What the fillet takes away.
  await volume(page, -4 * (1 - Math.PI / 4) * 24, 1)
  await apply(page)
  await settled(page)
  // From the picture to a number ten steps back: the distance is changed, all that follows runs again.
  await page.getByText('Extruded').first().click()
  await fill(page, 'Distance', '20')
  await expect(card(page)).toContainText('1 later step')
  await apply(page)
  await settled(page)
  await pickBody(page, 'plate')
  await expect(page.getByTestId('readout')).toContainText(/Volume\s*18\.6[0-9]* cm³/)
})

test('changes are held and run together', async ({ page }) => {
  await newJob(page)
  await tool(page, 'Build', 'Block')
  await apply(page)
  await settled(page)
  await tool(page, 'Build', 'Cylinder')
  await apply(page)
  await settled(page)
  await pickBody(page, 'cylinder')
  const before = await page.getByTestId('readout').innerText()
  await page.getByRole('checkbox', { name: /Hold re-run/ }).check()
  await page.getByRole('button', { name: /Edit step: Cylinder/ }).click()
  await fill(page, 'Radius', '9')
  await page.getByTestId('apply').click()
  await expect(page.locator('.run-box')).toContainText('Changes are held')
  await expect(page.getByTestId('run-state')).toHaveText('held')
  await page.getByRole('button', { name: /Edit step: Cylinder/ }).click()
  await fill(page, 'Height', '7')
  await page.getByTestId('apply').click()
  await expect(page.getByTestId('tool-card')).toHaveCount(0)
  // What is shown is from before; letting go runs both.
  await pickBody(page, 'cylinder')
  expect(await page.getByTestId('readout').innerText()).toBe(before)
  await page.getByRole('checkbox', { name: /Hold re-run/ }).uncheck()
  await settled(page)
  await expect(page.getByTestId('readout')).toContainText(/18 × 18 × 7/)
})

test(
  'a mesh cover is lettered right through, and its edge rounded where it is flat; it goes out as STL',
  { tag: '@long' },
  async ({ page }) => {
    await newJob(page)
    await bringIn(page, 'hatch cover', box(80, 40, 4))
    await page.getByRole('button', { name: 'Top', exact: true }).click()
    await tool(page, 'Build', 'Lettering')
    await fill(page, 'Words', 'REACH')
    await fill(page, 'Size', '8')
    await fill(page, 'Height', '5')
    await card(page).getByLabel('Result').selectOption('cut')
    await expect(card(page).getByLabel('Body', { exact: true })).toHaveValue('hatch cover')
    const [x, y] = await screenAt(page, [40, 20, 4])
    await page.mouse.click(x, y)
    await expect(page.getByTestId('ghost-figures')).toContainText('Triangles', { timeout: 120_000 })
    const cut = await figureNumber(page, 'Volume')
    expect(cut).toBeLessThan(12.6)
    expect(cut).toBeGreaterThan(11.5)
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-hatch cover')).toContainText('closed')
  },
)

test('a downloaded box of facets: an edge and a corner are rounded by clicks on the mesh, and the part goes out', async ({
  page,
}) => {
  await newJob(page)
  await bringIn(page, 'box', box(40, 30, 12, 3))
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await tool(page, 'Build', 'Fillet')
  await touchAt(page, [20, 0, 12])
  await expect(card(page)).toContainText('edge')
  await fill(page, 'Radius', '3')
  await volume(page, -9 * (1 - Math.PI / 4) * 40, 1)
  await expect(card(page)).toContainText('was a mesh')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-box')).toContainText('solid')
})

test(
  'a bailer scoop: two splines, extruded, its corners and foot rounded, hollowed, its rim rounded from side to side',
  { tag: '@long' },
  async ({ page }) => {
    test.setTimeout(180_000)
    await newJob(page)
    await tool(page, 'Build', 'Outline')
    const line = async (...places: [number, number][]) => {
      for (const [u, v] of places) await touchAt(page, [u, v, 0])
      await page.keyboard.press('Enter')
    }
    await way(page, 'Draw', 'Line')
    await line([-30, -18], [-30, 18])
    await page.keyboard.press('Escape')
    await way(page, 'Draw', 'Line')
    await line([32, 12], [32, -12])
    await page.keyboard.press('Escape')
    await way(page, 'Shapes', 'Spline')
    await line([-30, 18], [0, 22], [32, 12])
    await way(page, 'Shapes', 'Spline')
    await line([32, -12], [0, -22], [-30, -18])
    await expect(page.locator('[data-testid=drawing] .curve')).toHaveCount(4)
    await apply(page)
    await settled(page)
    await page.getByRole('button', { name: 'Corner', exact: true }).click()
    await tool(page, 'Build', 'Extrude')
    await fill(page, 'Name', 'scoop')
    await fill(page, 'Distance', '25')
    // The same two splines by an independent sum: 59.9 cm³.
    await volume(page, 59.9, 0)
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Fillet')
    await touchAt(page, [-30, -18, 12])
    await touchAt(page, [32, -12, 12])
    await page.getByRole('button', { name: 'Back', exact: true }).click()
    await settled(page)
    await touchAt(page, [-30, 18, 12])
    await touchAt(page, [32, 12, 12])
    await expect(card(page)).toContainText('4 edges')
    await fill(page, 'Radius', '6')
    await apply(page)
    await settled(page)
    await page.getByRole('button', { name: 'Under', exact: true }).click()
    await settled(page)
    await tool(page, 'Build', 'Fillet')
    await touchAt(page, [-30, 0, 0])
    await fill(page, 'Radius', '4')
    await expect(page.getByTestId('ghost-figures')).toContainText('Faces', { timeout: 120_000 })
    await apply(page)
    await settled(page)
    await page.getByRole('button', { name: 'Corner', exact: true }).click()
    await settled(page)
    await tool(page, 'Build', 'Shell')
    await touchAt(page, [0, 0, 25])
    await fill(page, 'Wall', '2')
    await expect.poll(() => figureNumber(page, 'Volume'), { timeout: 120_000 }).toBeLessThan(-40)
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Fillet')
    await card(page).getByLabel('Round', { exact: true }).selectOption({ label: 'a rim, from side to side' })
    await touchAt(page, [-29, 0, 25])
    // What a round of 1 mm takes from both corners of a rim of some 171 mm: (2 - pi / 2) mm² of it.
    await expect.poll(() => figureNumber(page, 'Volume'), { timeout: 120_000 }).toBeCloseTo(-73, -1)
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-scoop')).toContainText('solid · closed')
  },
)
