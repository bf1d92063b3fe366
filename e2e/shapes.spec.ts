/** Shapes of meshes: a face had by a brush or a click, and a whole part recognised, without converting anything else. */
import { expect, test } from '@playwright/test'
import { bracketShape } from '@/core/scan/shapes'
import { cylinder } from '@/testing/shapes'
import { apply, bringIn, card, clickAt, fill, newJob, pickBody, settled, tool } from './bench'

test('of a downloaded pin a cylinder and a plane are fitted by clicks as a datum and as a face', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'hinge pin', cylinder(6, 30, 48))
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await settled(page)
  await tool(page, 'Convert', 'Fit shape')
  await clickAt(page, [6 * Math.cos(-Math.PI / 4), 6 * Math.sin(-Math.PI / 4), 15])
  await expect(page.getByTestId('ghost-figures')).toContainText(/Diameter\s*12/, { timeout: 60_000 })
  await fill(page, 'Name', 'pin axis')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-pin axis')).toBeVisible()
  await tool(page, 'Convert', 'Fit shape')
  await pickBody(page, 'hinge pin')
  await clickAt(page, [1, 1, 30])
  await card(page).getByRole('radiogroup', { name: 'Becomes' }).getByText('a face (sheet)').click()
  await fill(page, 'Name', 'pin top')
  await expect(card(page)).toContainText(/plane through|Off by/, { timeout: 60_000 })
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-pin top')).toContainText('sheet')
})

test('the gate bracket is recognised: each plane and bore of it', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'bracket', await bracketShape({ sides: 48 }))
  await tool(page, 'Convert', 'Recognise')
  await expect(card(page).getByLabel('Mesh')).toHaveValue('bracket')
  await card(page).getByRole('button', { name: 'Ghost', exact: true }).click()
  await expect(page.getByTestId('ghost-figures')).toContainText(/Planes\s*7/, { timeout: 60_000 })
  await expect(page.getByTestId('ghost-figures')).toContainText(/Cylinders\s*10/)
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('step-s2')).toContainText('17 regions')
})
