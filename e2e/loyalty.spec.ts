/** Mending says what it kept, shows it, and leaves open what is open. */
import { expect, test } from './kept-browser'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { terrain } from '@/testing/hard'
import { shifted, sphere } from '@/testing/shapes'
import { apply, bringIn, card, figure, newJob, settled, tool } from './bench'

test('two balls that overlap become one; the card tells what lay inside, the map shows it', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'balls', concatMeshes([sphere(20, 4), shifted(sphere(20, 4), 18, 3, 1)]))
  await tool(page, 'Mend', 'Mend all')
  await card(page).getByRole('button', { name: 'Ghost' }).click()
  await expect(page.getByTestId('ghost-figures')).toBeVisible({ timeout: 30_000 })
  expect(await figure(page, 'ghost-figures', 'Seen')).toBe('2 closed pieces')
  expect(await figure(page, 'ghost-figures', 'Skin kept')).toBe('100 %')
  await card(page).getByRole('button', { name: 'Show what was kept' }).click()
  const legend = page.getByTestId('kept-legend')
  await expect(legend).toContainText(/kept where it was\s*100 %/)
  await expect(legend).toContainText(/lay inside\s*2\d(\.\d)? %/)
  await card(page).getByRole('button', { name: 'Hide what was kept' }).click()
  await expect(legend).toHaveCount(0)
  await apply(page)
  await settled(page)
  const step = page.locator('li.step').last()
  await expect(step).toContainText(/lay inside and went/)
  await step.getByRole('button', { name: 'Show what was kept' }).click()
  await expect(legend).toContainText('balls: what was kept')
  // Both balls less the lens of two caps: pi h^2 (3 r - h) / 3 each, with h = r - d / 2; a polyhedron of 4 096 triangles is a little less.
  const h = 20 - Math.hypot(18, 3, 1) / 2
  const whole = 2 * meshVolume(sphere(20, 4)) - (2 * Math.PI * h * h * (60 - h)) / 3
  const [value, unit] = (await figure(page, 'readout', 'Volume')).split(' ')
  expect(unit).toBe('cm³')
  expect(Math.abs((1000 * Number(value)) / whole - 1)).toBeLessThan(0.01)
})

test(
  'an open sheet stays open at its border, and is closed when that is chosen',
  { tag: '@long' },
  async ({ page }) => {
    await newJob(page)
    await bringIn(page, 'ground', terrain(20))
    await tool(page, 'Mend', 'Mend all')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-ground')).toContainText('mesh · 1 hole')
    await page.getByRole('button', { name: /Edit step: Mended/ }).click()
    await card(page).getByText('closed too').click()
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-ground')).toContainText('mesh · closed')
    await expect(page.locator('li.step').last()).toContainText(/100 % of the skin kept, \d\d(\.\d)? % new/)
  },
)
