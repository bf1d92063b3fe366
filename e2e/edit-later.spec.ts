/** Edit later: lost picks asked for again, steps taken along to another job, a recipe used on another file, what made and uses a thing. */
import { expect, test } from './kept-browser'
import { box } from '@/testing/shapes'
import { writeStlBinary } from '@/core/formats/stl'
import { apply, bringIn, card, fill, newJob, pickBody, settled, tool, touchAt, volume } from './bench'

test('a pick that is gone is asked for on the bench, with all other settings kept', async ({ page }) => {
  await newJob(page)
  await tool(page, 'Build', 'Block')
  await apply(page)
  await settled(page)
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  // Block of 20 x 20 x 10 about the middle of the mat.
  const [w, d, h] = [20, 20, 10]
  await tool(page, 'Build', 'Chamfer')
  await touchAt(page, [0, -d / 2, h])
  await fill(page, 'Distance', '4')
  await apply(page)
  await settled(page)
  await tool(page, 'Build', 'Fillet')
  await touchAt(page, [0, -d / 2, h - 4])
  await expect(card(page).getByRole('button', { name: /chamfer/ })).toBeVisible()
  await fill(page, 'Radius', '1.5')
  await apply(page)
  await settled(page)
  await pickBody(page, 'block')
  const before = await volume(page)
  const step = page.getByTestId('step-s2')
  await step.hover()
  await step.getByRole('button', { name: 'Switch step off' }).click()
  await settled(page)
  const lost = page.getByTestId('step-s3')
  await expect(lost).toContainText('is not there any more')
  await lost.getByRole('button', { name: 'Pick again: edges' }).click()
  await expect(card(page).getByLabel('Radius', { exact: true })).toHaveValue('1.5')
  await touchAt(page, [0, -d / 2, h])
  await apply(page)
  await settled(page)
  await expect(lost.getByRole('alert')).toHaveCount(0)
  await pickBody(page, 'block')
  expect(await volume(page)).toBeCloseTo(w * d * h - 1.5 ** 2 * (1 - Math.PI / 4) * w, -1)
  expect(await volume(page)).toBeGreaterThan(before)
})

test('a step is taken along to another job, onto a body of another name; what made and uses it is told', async ({
  page,
}) => {
  await newJob(page)
  await tool(page, 'Build', 'Block')
  await apply(page)
  await settled(page)
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await tool(page, 'Build', 'Hole')
  await touchAt(page, [0, 0, 10])
  await fill(page, 'Diameter', '6')
  await apply(page)
  await settled(page)
  // What uses the block, and which step made it.
  await pickBody(page, 'block')
  await page.getByTestId('lineage').locator('summary').click()
  await expect(page.getByTestId('lineage')).toContainText(/Made by\s*1 Block/)
  await expect(page.getByTestId('lineage')).toContainText(/Changed by\s*2 Hole/)
  const first = page.getByTestId('step-s1')
  await first.hover()
  await first.getByRole('button', { name: 'What uses this step' }).click()
  await expect(page.getByTestId('step-s2')).toContainText('uses it')
  const hole = page.getByTestId('step-s2')
  await hole.hover()
  await hole.getByRole('button', { name: 'Take step along' }).click()
  await newJob(page)
  await tool(page, 'Build', 'Block')
  await fill(page, 'Name', 'board')
  await apply(page)
  await settled(page)
  await page.getByRole('button', { name: /^Put down 1 step of/ }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('block')
  await expect(dialog.getByLabel('block')).toHaveValue('board')
  await dialog.getByRole('button', { name: 'Put down' }).click()
  await settled(page)
  await pickBody(page, 'board')
  await expect.poll(() => volume(page)).toBeCloseTo(20 * 20 * 10 - 9 * Math.PI * 10, -1)
})

test('a whole recipe is used on another file: a new job does to it what was done to the first', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'small', box(20, 20, 6))
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await tool(page, 'Build', 'Fillet')
  await touchAt(page, [10, 0, 6])
  await fill(page, 'Radius', '2')
  await apply(page)
  await settled(page)
  await page.getByLabel('Another file for this recipe').setInputFiles({
    name: 'large.stl',
    mimeType: 'model/stl',
    buffer: Buffer.from(writeStlBinary(box(50, 20, 6))),
  })
  await expect(page.locator('.job-title')).toContainText('on large', { timeout: 30_000 })
  await settled(page)
  await pickBody(page, 'small')
  // The edge over the same place of the larger box, all of it.
  expect(await volume(page)).toBeCloseTo(50 * 20 * 6 - 4 * (1 - Math.PI / 4) * 50, -1)
})
