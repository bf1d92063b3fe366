/** The bench's manners: bringing in, picking, undo, Find and keys, failures, stops. */
import AxeBuilder from '@axe-core/playwright'
import { expect, test } from './kept-browser'
import { apply, clickAt, cubeStl, figure, fill, newJob, openRecipe, settled, tool } from './bench'

test('a dropped file shows its size in every unit; a damaged one says where; undo and redo outlive a reload', async ({
  page,
}) => {
  await newJob(page)
  await expect(page.getByText('What is on the bench?')).toBeVisible()
  await page.getByTestId('file-input').setInputFiles({
    name: 'broken.stl',
    mimeType: 'model/stl',
    buffer: Buffer.from('solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 zero\n'),
  })
  await expect(page.getByTestId('tool-card').getByRole('alert')).toContainText(
    '"zero" stands where a number should (line 4)',
  )
  await page.getByRole('button', { name: 'Cancel' }).click()
  await page.getByTestId('file-input').setInputFiles({ name: 'cube.stl', mimeType: 'model/stl', buffer: cubeStl(2) })
  await expect(page.locator('.units')).toContainText('50.8 × 50.8 × 50.8 mm')
  await expect(page.locator('.units')).toContainText('20 × 20 × 20 mm')
  await page.locator('.units').getByLabel('inch').check()
  await apply(page)
  await settled(page)
  expect(await figure(page, 'readout', 'Size')).toBe('50.8 × 50.8 × 50.8 mm')
  expect(await figure(page, 'readout', 'Volume')).toBe('131.1 cm³') // 50.8³ = 131 096.5 mm³
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('body-cube')).toHaveCount(0)
  // Taken back by the server too: a page that leaves earlier takes its question along.
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled()
  await page.reload()
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(page.getByTestId('body-cube')).toContainText('mesh · closed')
})

test('jobs begin from the list: an empty one, and a copy that has all of the other and changes nothing of it', async ({
  page,
}) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New job an empty bench' }).click()
  await page.waitForURL(/\/jobs\//)
  await tool(page, 'Build', 'Block')
  await apply(page)
  await settled(page)
  const original = page.url()
  await page.locator('.job-title button').click()
  await page.getByLabel('Name of this job').fill('Chock')
  await page.getByRole('dialog').getByRole('button', { name: 'Rename' }).click()
  await expect(page.locator('.job-title')).toContainText('Chock')
  await page.goto('/')
  await page.getByRole('button', { name: 'Copy Chock' }).dblclick()
  await page.waitForURL((url) => /\/jobs\//.test(url.href) && url.href !== original)
  await settled(page)
  await expect(page.locator('.job-title')).toContainText('Copy of Chock')
  // Two clicks in a row make one job.
  const titles = ((await (await page.request.get('/api/jobs')).json()) as { title: string }[]).map((j) => j.title)
  expect(titles.filter((t) => t === 'Copy of Chock')).toHaveLength(1)
  // Made already: nothing is to be undone, nothing waits.
  await expect(page.getByTestId('run-state')).toHaveText('ready')
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled()
  await page.getByRole('button', { name: /^Edit step/ }).click()
  await fill(page, 'Size x', '30')
  await apply(page)
  await settled(page)
  expect(await figure(page, 'readout', 'Size')).toBe('30 × 20 × 10 mm')
  await page.goto(original)
  await settled(page)
  expect(await figure(page, 'readout', 'Size')).toBe('20 × 20 × 10 mm')
})

test('editing an early step runs what hangs on it again; a failed step keeps its settings and says why', async ({
  page,
}) => {
  await newJob(page)
  await tool(page, 'Build', 'Cylinder')
  await fill(page, 'Radius', '10')
  await apply(page)
  await tool(page, 'Build', 'Block')
  await fill(page, 'Size x', '60')
  await fill(page, 'Size y', '60')
  await apply(page)
  await tool(page, 'Build', 'Difference')
  await page.getByTestId('tool-card').getByLabel('Cut from').selectOption('block')
  await page.getByTestId('tool-card').getByLabel('cylinder').check()
  await apply(page)
  await settled(page)
  // 60 · 60 · 10 less π 10² · 10
  expect(await figure(page, 'readout', 'Volume')).toBe(`${((36000 - Math.PI * 1000) / 1000).toFixed(2)} cm³`)
  await page.getByRole('button', { name: /Edit step: Cylinder/ }).click()
  await fill(page, 'Radius', '20')
  await expect(page.getByTestId('tool-card')).toContainText('1 later step will run again')
  await apply(page)
  await settled(page)
  expect(await figure(page, 'readout', 'Volume')).toBe(`${Number(((36000 - Math.PI * 4000) / 1000).toFixed(2))} cm³`)
  // Far away it cuts nothing; taken as the body to cut, nothing is left.
  await page.getByRole('button', { name: /Edit step: Cylinder/ }).click()
  await fill(page, 'Radius', '100')
  await page.getByTestId('apply').click()
  await expect(page.getByTestId('run-state')).toHaveText('a step failed')
  await expect(page.locator('.step.failed')).toContainText('leaves nothing')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByTestId('run-state')).toHaveText('ready')
})

test('picking: grow, whole piece, box, lasso and brush mark triangles; the region drives a step', async ({ page }) => {
  await newJob(page)
  await page.getByTestId('file-input').setInputFiles({ name: 'cube.stl', mimeType: 'model/stl', buffer: cubeStl(40) })
  await apply(page)
  await settled(page)
  await tool(page, 'Mend', 'Remove picked')
  await clickAt(page, [20, 20, 40])
  await expect(page.getByTestId('picked')).toHaveText('2 triangles')
  await page.getByRole('button', { name: '+ ring' }).click()
  await expect(page.getByTestId('picked')).toHaveText('10 triangles')
  await page.getByRole('button', { name: 'Invert' }).click()
  await expect(page.getByTestId('picked')).toHaveText('2 triangles')
  await page.getByRole('button', { name: 'clear', exact: true }).click()
  await page.getByRole('button', { name: 'Whole piece' }).click()
  await clickAt(page, [20, 20, 40])
  await expect(page.getByTestId('picked')).toHaveText('12 triangles')
  await page.getByRole('button', { name: 'clear', exact: true }).click()
  const box = (await page.getByTestId('bench-canvas').boundingBox())!
  const drag = async (points: [number, number][]) => {
    await page.mouse.move(box.x + points[0][0], box.y + points[0][1])
    await page.mouse.down()
    for (const [x, y] of points.slice(1)) await page.mouse.move(box.x + x, box.y + y, { steps: 4 })
    await page.mouse.up()
  }
  await page.getByRole('button', { name: 'Box', exact: true }).click()
  await drag([
    [200, 60],
    [box.width - 20, box.height - 20],
  ])
  await expect(page.getByTestId('picked')).toHaveText('6 triangles') // three faces look at the viewer
  await page.getByRole('button', { name: 'clear', exact: true }).click()
  await page.getByRole('button', { name: 'Right through' }).click()
  await page.getByRole('button', { name: 'Lasso' }).click()
  await drag([
    [200, 60],
    [box.width - 20, 60],
    [box.width - 20, box.height - 20],
    [200, box.height - 20],
    [200, 70],
  ])
  await expect(page.getByTestId('picked')).toHaveText('12 triangles')
  await page.getByRole('button', { name: 'clear', exact: true }).click()
  await page.getByRole('button', { name: 'Grow', exact: true }).click()
  await clickAt(page, [20, 20, 40])
  await expect(page.getByTestId('picked')).toHaveText('2 triangles')
  await apply(page)
  await expect(page.getByTestId('body-cube')).toContainText('mesh · 1 hole')
  await tool(page, 'Mend', 'Close holes')
  await page.getByTestId('tool-card').getByRole('radio', { name: 'picked' }).click()
  await clickAt(page, [40, 0, 40])
  await expect(page.getByTestId('tool-card')).toContainText('1 picked')
  await apply(page)
  await expect(page.getByTestId('body-cube')).toContainText('mesh · closed')
})

test('Find and keys reach every tool; no serious accessibility fault; dark theme', async ({ page }) => {
  await openRecipe(page, [
    { id: 'a', kind: 'build/block', set: { name: 'block', size: [60, 40, 6] } },
    { id: 'b', kind: 'build/cylinder', set: { name: 'pin', radius: 4, height: 30, at: [0, 0, -10] } },
    { id: 'c', kind: 'build/difference', set: { from: 'block', take: ['pin'] } },
    { id: 'd', kind: 'send-out/file', set: { bodies: ['block'], file: 'block.stl' } },
  ])
  await page.keyboard.press('/')
  await page.getByRole('combobox', { name: /Find a tool/ }).fill('untan')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('tool-card')).toContainText('Untangle')
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('tool-card')).toHaveCount(0)
  await page.keyboard.press('5')
  await expect(page.getByRole('toolbar')).toContainText('Extrude')
  for (const theme of ['light', 'dark']) {
    const found = await new AxeBuilder({ page }).analyze()
    expect(
      found.violations
        .filter((v) => v.impact === 'serious' || v.impact === 'critical')
        .map((v) => `${theme}: ${v.id} ${v.nodes[0].html.slice(0, 120)}`),
    ).toEqual([])
    if (theme === 'light') await page.getByRole('button', { name: 'Dark theme' }).click()
  }
})

test('writes from other sites and wrong recipes are refused in plain words', async ({ request }) => {
  const other = await request.post('/api/jobs', {
    data: { title: 'x' },
    headers: { origin: 'http://elsewhere.example' },
  })
  expect(other.status()).toBe(403)
  const made = (await (await request.post('/api/jobs', { data: { title: 'api' } })).json()) as {
    id: string
    revision: string
  }
  const wrong = await request.post(`/api/jobs/${made.id}/revisions`, {
    data: {
      base: made.revision,
      label: 'x',
      recipe: {
        format: 'glue-bench/recipe',
        version: 1,
        steps: [{ id: 'a', kind: 'build/cylinder', set: { name: 'c', radius: 3, height: 2, colour: 'red' } }],
      },
    },
  })
  expect(wrong.status()).toBe(400)
  expect(await wrong.text()).toContain('unknown key')
  expect(await wrong.text()).toContain('colour')
  const path = await request.post(`/api/jobs/${made.id}/files?name=${encodeURIComponent('../../etc/passwd')}`, {
    data: cubeStl(1),
  })
  expect(((await path.json()) as { name: string }).name).toBe('passwd')
})
