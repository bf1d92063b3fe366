/** Shapes of meshes: a face had by a brush or a click, and a whole part recognised, without converting anything else. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import DxfParser from 'dxf-parser'
import { expect, test } from './kept-browser'
import { bracketShape } from '@/core/scan/shapes'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { box, cylinder, shifted } from '@/testing/shapes'
import {
  apply,
  bodyNames,
  bringIn,
  card,
  clickAt,
  fill,
  newJob,
  pickBody,
  screenAt,
  settled,
  tool,
  view,
  volume,
  hideBody,
} from './bench'

test('of a downloaded pin a cylinder and a plane are fitted by a click and by brush, as a datum and as a face', async ({
  page,
}) => {
  await newJob(page)
  await bringIn(page, 'hinge pin', cylinder(6, 30, 48))
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await settled(page)
  await tool(page, 'Convert', 'Fit shape')
  await clickAt(page, [6 * Math.cos(-Math.PI / 4), 6 * Math.sin(-Math.PI / 4), 15])
  await expect(page.getByTestId('ghost-figures')).toContainText(/Diameter\s*12/, { timeout: 120_000 })
  await fill(page, 'Name', 'pin axis')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-pin axis')).toBeVisible()
  await tool(page, 'Convert', 'Fit shape')
  await pickBody(page, 'hinge pin')
  // While the brush is down, what fits is told at once.
  await page.getByRole('button', { name: 'Brush', exact: true }).click()
  // Of a radius of 4 mm it stays off the rim.
  const [from, to] = [await screenAt(page, [-1, -0.5, 30]), await screenAt(page, [1, 0.5, 30])]
  await page.mouse.move(...from)
  await page.mouse.down()
  await page.mouse.move(...to, { steps: 6 })
  const fit = page.getByTestId('fit-found')
  await expect(fit).toContainText('plane')
  await expect(fit).toContainText(/Of the region\s*100 %/)
  await page.mouse.up()
  await card(page).getByLabel('Becomes').selectOption('sheet')
  await fill(page, 'Name', 'pin top')
  await expect(page.getByTestId('ghost-figures')).toContainText('Off by', { timeout: 120_000 })
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-pin top')).toContainText('sheet')
})

test('four pins are picked, found equal on their pattern, and cut from a plate at once', async ({ page }) => {
  await newJob(page)
  const pins: [number, number][] = [
    [-20, -15],
    [20, -15],
    [20, 15],
    [-20, 15],
  ]
  await bringIn(page, 'pins', concatMeshes(pins.map(([x, y]) => shifted(cylinder(4, 12, 48), x, y, 0))))
  await bringIn(page, 'plate', shifted(box(60, 50, 6), -30, -25, 0))
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await settled(page)
  await tool(page, 'Convert', 'Fit shape')
  await pickBody(page, 'pins')
  for (const [x, y] of pins) await clickAt(page, [x + 4 * Math.cos(-Math.PI / 4), y + 4 * Math.sin(-Math.PI / 4), 9])
  await card(page).getByLabel('Patches').selectOption('each')
  await expect(page.getByTestId('fit-found')).toContainText('4 cylinders, equal, parallel, on a 40 × 30 mm pattern')
  await card(page).getByLabel('Becomes').selectOption('cut')
  await card(page).getByLabel('Body', { exact: true }).selectOption('plate')
  await expect(page.getByTestId('ghost-figures')).toContainText(/Shapes\s*4/, { timeout: 120_000 })
  await apply(page)
  await settled(page)
  await pickBody(page, 'plate')
  const left = 60 * 50 * 6 - 4 * Math.PI * 16 * 6
  expect(Math.abs((await volume(page)) - left)).toBeLessThan(0.005 * left)
})

test('the gate bracket is recognised: each plane and bore of it', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'bracket', await bracketShape({ sides: 24 }))
  await tool(page, 'Convert', 'Recognise')
  await expect(card(page).getByLabel('Mesh')).toHaveValue('bracket')
  await card(page).getByRole('button', { name: 'Ghost', exact: true }).click()
  await expect(page.getByTestId('ghost-figures')).toContainText(/Planes\s*7/, { timeout: 120_000 })
  await expect(page.getByTestId('ghost-figures')).toContainText(/Cylinders\s*10/)
  // The boss's wall is picked on the bench, told free, and taken back; two corners are made one.
  await view(page, 'Corner')
  const list = card(page).getByRole('table')
  await expect(list.getByRole('row')).toHaveCount(18)
  await clickAt(page, [12 * Math.cos(-Math.PI / 4), 12 * Math.sin(-Math.PI / 4), 18])
  await expect(list.getByRole('row', { selected: true })).toContainText('Ø 24')
  await card(page).getByLabel('Kind').selectOption('free')
  await expect(page.getByTestId('ghost-figures')).toContainText(/Free surfaces\s*1/, { timeout: 120_000 })
  await card(page).getByRole('button', { name: 'Take back', exact: false }).click()
  await expect(page.getByTestId('ghost-figures')).toContainText(/Cylinders\s*10/, { timeout: 120_000 })
  await expect(page.getByTestId('ghost-figures')).not.toContainText('Free')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('step-s2')).toContainText('17 regions')
})

test('the gate bracket becomes a clean solid: a regularity let be, its top chamfered by its face, out as STEP', async ({
  page,
}) => {
  await newJob(page)
  await bringIn(page, 'bracket', await bracketShape({ sides: 24 }))
  await tool(page, 'Convert', 'Clean solid')
  await card(page).getByRole('button', { name: 'Ghost', exact: true }).click()
  await expect(page.getByTestId('ghost-figures')).toContainText(/Faces\s*17/, { timeout: 120_000 })
  await card(page).getByText('Regularities:', { exact: false }).click()
  const bores = card(page).getByLabel('4 cylinders of radius 2.54')
  await expect(bores).toBeChecked()
  // A tick that is turned makes the ghost go, not the list; turned back, the ghost is there again.
  await bores.uncheck()
  await expect(card(page).getByText('1 left alone', { exact: false })).toBeVisible()
  await bores.check()
  await expect(page.getByTestId('ghost-figures')).toContainText(/Faces\s*17/, { timeout: 120_000 })
  await card(page).getByText('Faces: 17', { exact: false }).click()
  await expect(card(page).getByRole('cell', { name: 'r 2.54' }).first()).toBeVisible()
  await fill(page, 'Name', 'clean bracket')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-clean bracket')).toContainText('solid · closed')
  await hideBody(page, 'bracket')
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await settled(page)
  await tool(page, 'Build', 'Chamfer')
  await card(page).getByRole('button', { name: 'More', exact: true }).click()
  await card(page).getByText('click a face').first().click()
  await clickAt(page, [9, 0, 29])
  await expect(page.getByTestId('ghost-figures')).toContainText(/Faces\s*19/, { timeout: 120_000 })
  await apply(page)
  await settled(page)
  await tool(page, 'Send out', 'Send out file')
  await fill(page, 'File name', 'bracket.step')
  await card(page).getByLabel('bracket', { exact: true }).uncheck()
  await apply(page)
  await settled(page)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save bracket.step' }).click(),
  ])
  const text = readFileSync(await download.path(), 'utf8')
  // As a reader of the open format sees it: one solid of true cylinders, and the cone of the chamfer.
  expect(text.match(/MANIFOLD_SOLID_BREP/g)).toHaveLength(1)
  expect(text.match(/CYLINDRICAL_SURFACE/g)).toHaveLength(10)
  expect(text.match(/CONICAL_SURFACE/g)!.length).toBeGreaterThan(0)
})

test(
  'a name board is taken apart, its letters become clean solids, one with a spline edge, and its outline goes to a router',
  { tag: '@long' },
  async ({ page }) => {
    // A downloaded board: three letters of facets in one STL.
    const dir = mkdtempSync(path.join(tmpdir(), 'board-'))
    const drawing = { points: [[0, 0]], curves: [], lettering: [{ text: 'OAO', at: 0, size: 20 }] }
    const steps = [
      { id: 's1', kind: 'build/outline', set: { name: 'word', drawing } },
      { id: 's2', kind: 'build/extrude', set: { outline: 'word', distance: 4, name: 'board' } },
      { id: 's3', kind: 'send-out/file', set: { bodies: ['board'], file: 'name board.stl', chord: 0.02 } },
    ]
    writeFileSync(path.join(dir, 'r.json'), JSON.stringify({ format: 'glue-bench/recipe', version: 1, steps }))
    execFileSync('./glue-bench', ['run', path.join(dir, 'r.json'), '--out', dir], { stdio: 'ignore' })
    await newJob(page)
    await page.getByTestId('file-input').setInputFiles(path.join(dir, 'name board.stl'))
    await apply(page)
    await settled(page)
    await tool(page, 'Mend', 'Take apart')
    await apply(page)
    await settled(page)
    const names = await bodyNames(page)
    expect(names).toHaveLength(3)
    // All letters in one go.
    await tool(page, 'Convert', 'Clean solid')
    await card(page).getByLabel('Mesh', { exact: true }).selectOption(names[0])
    await card(page).getByRole('button', { name: 'More', exact: true }).click()
    for (const n of names.slice(1)) await card(page).getByLabel(n, { exact: true }).check()
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('step-s3')).toContainText('3 solids, 3 extruded')
    // A round one once more, its walls splines.
    await tool(page, 'Convert', 'Clean solid')
    await card(page).getByLabel('Mesh', { exact: true }).selectOption(names[0])
    for (const kind of ['lines', 'arcs', 'splines'])
      await card(page).getByRole('checkbox', { name: kind, exact: true }).click()
    await fill(page, 'Name', 'round letter')
    await apply(page)
    await settled(page)
    await pickBody(page, 'round letter')
    // Two ends, and one wall outside and one inside.
    await expect(page.getByTestId('readout')).toContainText(/Faces\s*4/)
    const solids = await bodyNames(page)
    await tool(page, 'Convert', 'Silhouette')
    for (const n of solids) await card(page).getByLabel(n, { exact: true }).setChecked(/solid/.test(n))
    await fill(page, 'Name', 'sign')
    await apply(page)
    await settled(page)
    await tool(page, 'Send out', 'Send out file')
    await card(page).getByLabel('File name').fill('sign.dxf')
    await card(page).getByLabel('File name').blur()
    await card(page).getByRole('button', { name: 'More', exact: true }).click()
    await card(page).getByRole('radiogroup', { name: 'DXF as' }).getByText('release 12').click()
    await apply(page)
    await settled(page)
    const link = page.getByRole('link', { name: 'Save sign.dxf' })
    const sent = await page.request.get((await link.getAttribute('href'))!)
    const parsed = new DxfParser().parseSync(await sent.text())!
    expect(parsed.header.$ACADVER).toBe('AC1009')
    // Each of the letters has an outer and an inner line.
    expect(parsed.entities).toHaveLength(6)
    expect(parsed.entities.every((e) => e.type === 'POLYLINE')).toBe(true)
  },
)
