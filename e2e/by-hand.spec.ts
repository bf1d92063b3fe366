/** Three whole jobs by hand tools: a noisy scan mended, a worn bore erased and recut, a messy scan cut by a drawn line and reskinned. */
import { expect, test } from './kept-browser'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { bracketDownload } from '@/demo/scenario'
import {
  apply,
  card,
  clickAt,
  dragAlong,
  figure,
  fill,
  group,
  newJob,
  openCopy,
  openRecipe,
  pickBody,
  settled,
  tool,
  view,
  volume,
} from './bench'

test(
  'the noisy grip scan is mended by hand tools only, and the check-up counts down',
  { tag: '@long' },
  async ({ page }) => {
    await openCopy(page, 'Try it: raw scan and download')
    await pickBody(page, 'grip')
    await tool(page, 'Mend', 'Check-up')
    await expect(page.getByTestId('check-up').locator('dt', { hasText: /^holes$/ })).toBeVisible({ timeout: 120_000 })
    await page.getByRole('button', { name: 'Cancel' }).click()
    await group(page, 'Skin')
    await tool(page, 'Mend', 'Clear specks')
    await apply(page)
    await settled(page)
    // The count of stray pieces is seen to fall.
    await expect(
      page.getByTestId('check-up').locator('dt', { hasText: 'stray pieces' }).locator('xpath=following-sibling::dd[1]'),
    ).toContainText('→', { timeout: 120_000 })
    await tool(page, 'Mend', 'Split non-manifold')
    await apply(page)
    await tool(page, 'Mend', 'Face outward')
    await apply(page)
    await group(page, 'Shape')
    await tool(page, 'Mend', 'Smooth folds')
    await apply(page)
    await group(page, 'Holes')
    await tool(page, 'Mend', 'Close holes')
    await expect(page.getByTestId('hole-list').getByRole('button').first()).toContainText('edges', { timeout: 120_000 })
    await apply(page)
    await group(page, 'Skin')
    await tool(page, 'Mend', 'Untangle')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-grip')).toContainText('mesh · closed', { timeout: 120_000 })
    await group(page, 'Shape')
    await tool(page, 'Mend', 'Simplify')
    await fill(page, 'Share of the triangles', '20')
    await expect(page.getByTestId('ghost-figures')).toContainText('Off by at most', { timeout: 120_000 })
    await page.getByRole('button', { name: 'Show the map' }).click()
    await expect(page.getByTestId('map-legend')).toContainText('grip against grip before')
    const off = Number((await figure(page, 'ghost-figures', 'Off by at most')).replace(' mm', ''))
    expect(off).toBeGreaterThan(0.005)
    expect(off).toBeLessThan(0.6)
    await apply(page)
  },
)

test('a worn bore is erased, patched, and cut anew exactly', { tag: '@long' }, async ({ page }) => {
  const body = 'gate-bracket'
  await openRecipe(
    page,
    [
      { id: 'a', kind: 'bring-in/file', set: { file: 'gate-bracket.stl', unit: 'inch', name: body } },
      { id: 'b', kind: 'set-down/move', set: { body, by: [-10, -70, 0] } },
      { id: 'c', kind: 'build/edit-hole', set: { body, at: [-30.46, -83, 3], standard: 'M3 medium', equal: true } },
    ],
    { 'gate-bracket.stl': await bracketDownload() },
  )
  await view(page, 'Top')
  await pickBody(page, 'gate-bracket')
  // Heal area over a bore's wall: both rims are closed.
  await group(page, 'Holes', 'Mend')
  await tool(page, 'Mend', 'Heal area')
  await page.getByRole('button', { name: 'Circle', exact: true }).click()
  await page.getByRole('button', { name: 'Right through' }).click()
  await dragAlong(page, [
    [-33, -83, 6],
    [-31.75, -83, 6],
    [-30.5, -83, 6],
  ])
  await expect(page.getByTestId('picked')).not.toHaveText('0 triangles')
  await card(page).getByRole('radio', { name: 'flat' }).click()
  await expect(page.getByTestId('ghost-figures')).toContainText('Closed', { timeout: 120_000 })
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('body-gate-bracket')).toContainText('closed')
  const healed = await volume(page)
  // An exact bore of 4 mm through the 6 mm plate.
  await group(page, 'Shapes', 'Build')
  await tool(page, 'Build', 'Cylinder')
  await fill(page, 'Name', 'drill')
  await fill(page, 'Radius', '2')
  await fill(page, 'Height', '20')
  for (const [k, v] of [
    ['x', '-33'],
    ['y', '-83'],
    ['z', '-5'],
  ])
    await fill(page, `Middle of the base ${k}`, v)
  await apply(page)
  await tool(page, 'Build', 'Difference')
  await card(page).getByLabel('Cut from').selectOption('gate-bracket')
  await card(page).getByLabel('drill').check()
  await apply(page)
  await settled(page)
  await pickBody(page, 'gate-bracket')
  const cut = await volume(page)
  // pi r² h = 75.4 mm³
  expect(Math.abs(healed - cut - Math.PI * 4 * 6)).toBeLessThan(11)
})

test(
  'a messy tiller head is cut by a drawn line, one side kept, reskinned and sent out; the same headless',
  { tag: '@long' },
  async ({ page, request }) => {
    const id = await newJob(page)
    await tool(page, 'Bring in', 'Practice scanner')
    await card(page).getByLabel('Part').selectOption('tiller-head')
    await fill(page, 'Stations', '5')
    await card(page).getByRole('button', { name: 'More' }).click()
    await fill(page, 'Detail', '1.6')
    await fill(page, 'Stray echoes a station', '40')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-scan')).toContainText('hole')
    await view(page, 'Front')
    await group(page, 'Cut', 'Mend')
    await tool(page, 'Mend', 'Trim')
    await card(page).getByRole('radio', { name: 'line', exact: true }).click()
    // Drawn upwards at x = 10: side A, to its left, is the knob.
    await dragAlong(page, [
      [10, 0, -30],
      [10, 0, 0],
      [10, 0, 30],
    ])
    await expect(card(page)).toContainText('2 corners')
    await apply(page)
    await settled(page)
    const width = Number((await figure(page, 'readout', 'Size')).split(' × ')[0])
    expect(width).toBeGreaterThan(50)
    expect(width).toBeLessThan(57.5) // from -46 to 10 and a little
    await group(page, 'Shape')
    await tool(page, 'Mend', 'Reskin')
    await fill(page, 'Edge length', '1')
    await expect(page.getByTestId('estimate')).toContainText('triangles')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-scan')).toContainText('mesh · closed', { timeout: 120_000 })
    await page.getByRole('button', { name: 'Section view' }).click()
    await expect(page.getByTestId('section-panel')).toBeVisible()
    await page.getByLabel('Place of section plane 1').fill('-20')
    await page.getByRole('button', { name: 'Close the section view' }).click()
    await tool(page, 'Send out', 'Send out file')
    await fill(page, 'File name', 'tiller.3mf')
    await apply(page)
    await settled(page)
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Save tiller.3mf' }).click(),
    ])
    const sent = readFileSync(await download.path())
    const recipe = await (await request.get(`/api/jobs/${id}/recipe`)).text()
    const dir = mkdtempSync(path.join(tmpdir(), 'gb-e2e-'))
    try {
      writeFileSync(path.join(dir, 'r.json'), recipe)
      const report = JSON.parse(
        execFileSync('./glue-bench', ['run', path.join(dir, 'r.json'), '--out', dir], {
          encoding: 'utf8',
          maxBuffer: 1 << 26,
        }),
      ) as { ok: boolean; bodies: { facts: { closed: boolean; selfCrossings: number } }[] }
      expect(report.ok).toBe(true)
      expect(report.bodies[0].facts).toMatchObject({ closed: true, selfCrossings: 0 })
      expect(readFileSync(path.join(dir, 'tiller.3mf')).equals(sent)).toBe(true)
    } finally {
      rmSync(dir, { recursive: true, force: true })
    }
  },
)

test('a bore is measured across by one click, and the mark stays with the job', async ({ page }) => {
  await openRecipe(page, [
    { id: 'a', kind: 'build/block', set: { name: 'plate', size: [20, 20, 6] } },
    { id: 'b', kind: 'build/cylinder', set: { name: 'drill', radius: 2, height: 20, at: [0, 0, -5] } },
    { id: 'c', kind: 'build/difference', set: { from: 'plate', take: ['drill'] } },
  ])
  await view(page, 'Top')
  await pickBody(page, 'plate')
  await tool(page, 'Prove', 'Measure')
  await card(page).getByLabel('What').selectOption('diameter')
  // From above the wall away from the middle of the view is seen.
  await clickAt(page, [-1.99, 0, 5.9])
  await expect(page.getByTestId('mark')).toContainText('mm')
  expect(Number((await figure(page, 'ghost-figures', 'Measured')).replace(' mm', ''))).toBeCloseTo(4, 1)
  await apply(page)
  await page.reload()
  await settled(page)
  await expect(page.getByTestId('mark')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('mark')).toHaveCount(0)
})
