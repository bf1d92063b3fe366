/** The freeform way: a carved shape becomes a net, a cage that runs through the scan, and a smooth solid that is worked on and sent out. */
import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { gripShape } from '@/core/scan/shapes'
import { meshVolume } from '@/core/mesh/tri-mesh'
import { apply, bringIn, card, fill, newJob, pickBody, settled, tool, touchAt, volume } from './bench'

test('a carved grip becomes a net, a cage through the scan, a smooth solid with a bored pin hole, out as STEP', async ({
  page,
}) => {
  test.setTimeout(300_000)
  const carved = gripShape(90, 60)
  await newJob(page)
  await bringIn(page, 'grip', carved)
  await tool(page, 'Convert', 'Quad net')
  await fill(page, 'Quads', '300')
  await fill(page, 'Name', 'grip net')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-grip net')).toContainText(/net · \d+ quads/)
  await expect(page.getByTestId('step-s2')).toContainText('irregular point')

  await tool(page, 'Convert', 'Cage')
  await card(page).getByLabel('Net', { exact: true }).selectOption('grip net')
  await card(page).getByLabel('Run through the scan').check()
  await card(page).getByLabel('Scan', { exact: true }).selectOption('grip')
  await fill(page, 'Name', 'grip cage')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-grip cage')).toContainText(/cage · \d+ faces/)
  await expect(page.getByTestId('step-s3')).toContainText('off "grip" by at most')

  await tool(page, 'Convert', 'Smooth solid')
  await card(page).getByLabel('Cage or net').selectOption('grip cage')
  await fill(page, 'Name', 'smooth grip')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-smooth grip')).toContainText('solid · closed')
  await pickBody(page, 'smooth grip')
  const whole = await volume(page)
  expect(Math.abs(whole / meshVolume(carved) - 1)).toBeLessThan(0.01)

  for (const other of ['grip', 'grip net', 'grip cage'])
    await page.getByTestId(`body-${other}`).getByRole('button', { name: /Hide/ }).click()
  await tool(page, 'Build', 'Hole')
  await touchAt(page, [0, 0, 15])
  await fill(page, 'Diameter', '6')
  await apply(page)
  await settled(page)
  await pickBody(page, 'smooth grip')
  expect(await volume(page)).toBeLessThan(whole - 100)

  await tool(page, 'Send out', 'Send out file')
  await fill(page, 'File name', 'grip.step')
  for (const other of ['grip', 'grip net', 'grip cage']) await card(page).getByLabel(other, { exact: true }).uncheck()
  await apply(page)
  await settled(page)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save grip.step' }).click(),
  ])
  const text = readFileSync(await download.path(), 'utf8')
  expect(text.match(/MANIFOLD_SOLID_BREP/g)).toHaveLength(1)
  expect(text.match(/B_SPLINE_SURFACE_WITH_KNOTS/g)!.length).toBeGreaterThan(10)
  expect(text).toContain('CYLINDRICAL_SURFACE')
})
