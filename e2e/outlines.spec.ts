/** From a body to a drawing: a section half a millimetre under a face, traced, and datums to cut by. */
import { expect, test } from './kept-browser'
import { bracketShape } from '@/core/scan/shapes'
import { apply, bringIn, card, figure, fill, newJob, pickBody, settled, tool } from './bench'

test(
  "the gate bracket's section half a millimetre under its face gives four bores, one more and a rounded plate",
  { tag: '@long' },
  async ({ page }) => {
    await newJob(page)
    await bringIn(page, 'bracket', await bracketShape())
    await tool(page, 'Convert', 'Section line')
    await card(page).getByLabel('Plane through z').fill('6')
    await card(page).getByLabel('Plane through z').blur()
    // In the face itself it says so; half a millimetre lower it does not.
    await expect(card(page)).toContainText('lies in a face')
    await card(page).getByLabel('Plane through z').fill('5.5')
    await card(page).getByLabel('Plane through z').blur()
    await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toContain('2235')
    await expect(card(page)).not.toContainText('lies in a face')
    await apply(page)
    await settled(page)
    await pickBody(page, 'section')
    await expect(page.getByTestId('readout')).toContainText('Reference curves')
    await tool(page, 'Convert', 'Trace')
    const figures = page.getByTestId('ghost-figures')
    await expect(figures).toContainText(/Circles\s*5/)
    await expect(figures).toContainText(/Arcs\s*4/)
    // With circles and arcs off the bores become splines, or many lines.
    await card(page).getByRole('checkbox', { name: 'circles' }).click()
    await expect(figures).not.toContainText('Circles')
    await card(page).getByRole('checkbox', { name: 'circles' }).click()
    await expect(figures).toContainText(/Circles\s*5/)
    await apply(page)
    await settled(page)
    await pickBody(page, 'outline')
    await expect(page.getByTestId('readout')).toContainText(/Curves\s*13/)
  },
)

test('a datum plane is placed by numbers and cuts a section line', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'bracket', await bracketShape())
  await tool(page, 'Build', 'Plane')
  await fill(page, 'Moved along its direction by', '3')
  await apply(page)
  await settled(page)
  await pickBody(page, 'plane')
  await expect(page.getByTestId('readout')).toContainText(/Square to\s*0, 0, 1/)
  // The datum is picked still: the only body with a skin is ticked all the same.
  await tool(page, 'Convert', 'Section line')
  await expect(card(page).getByRole('checkbox', { name: 'bracket' })).toBeChecked()
  await card(page).getByRole('radio', { name: 'datum plane' }).click()
  await card(page).getByLabel('Datum plane').selectOption('plane')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toContain('2235')
  await apply(page)
  await settled(page)
  await pickBody(page, 'section')
  await expect(page.getByTestId('readout')).toContainText(/Closed loops\s*6/)
})
