/** Working with the hands: handles, faces and edges, hovering, backing out. */
import { expect, test, type Page } from './kept-browser'
import { box as boxFromCorner, shaken, shifted, sphere } from '@/testing/shapes'
import { apply, bringIn, card, clickAt, figure, newJob, openRecipe, settled, tool, view } from './bench'

const cube = () => shifted(boxFromCorner(40, 40, 20, 4), -20, -20, 0)

type Spot = [number, number, number]
const screenOf = (page: Page, p: Spot) =>
  page.evaluate(
    (q) => (window as unknown as { glueBenchScreenPoint(p: number[]): [number, number] }).glueBenchScreenPoint(q),
    p,
  )

/** Presses at one place of the model and drags towards another, in steps. */
async function dragFrom(page: Page, from: Spot, to: Spot, lift = 0): Promise<void> {
  const [x0, y0] = await screenOf(page, from),
    [x1, y1] = await screenOf(page, to)
  await page.mouse.move(x0, y0 - lift)
  await page.mouse.down()
  for (let i = 1; i <= 8; i++) await page.mouse.move(x0 + ((x1 - x0) * i) / 8, y0 - lift + ((y1 - y0) * i) / 8)
  await page.mouse.up()
}

test('a handle drags the height of a cylinder, rounded; it is taken back, typed over, applied exactly', async ({
  page,
}) => {
  await newJob(page)
  await bringIn(page, 'cube', cube())
  await tool(page, 'Build', 'Cylinder')
  const height = card(page).getByLabel('Height')
  await expect(height).toHaveValue('20')
  // The first ghost of an exact body waits for the kernel.
  await expect(page.getByTestId('ghost-figures')).toContainText('1.57 cm³', { timeout: 120_000 })
  await dragFrom(page, [0, 0, 20], [0, 0, 45], 24)
  const dragged = Number(await height.inputValue())
  expect(dragged).toBeGreaterThan(35)
  expect(dragged).toBeLessThan(55)
  expect(dragged % 1).toBe(0)
  // pi 5^2 h, from the ghost that was made in this browser.
  const volumeOfGhost = async () => parseFloat(await figure(page, 'ghost-figures', 'Volume'))
  await expect.poll(volumeOfGhost).toBeCloseTo((Math.PI * 25 * dragged) / 1000, 1)
  await page.keyboard.press('Control+z')
  await expect(height).toHaveValue('20')
  await page.keyboard.press('Control+Shift+z')
  await expect(height).toHaveValue(String(dragged))
  await height.fill('44')
  await card(page).getByLabel('Name', { exact: true }).fill('peg')
  await apply(page)
  await expect(page.getByTestId('readout')).toContainText('10 × 10 × 44 mm')
  await expect(page.getByTestId('readout')).toContainText('3.46 cm³')

  // Faces and edges of the exact body show themselves, with their lasting names and exact sizes.
  await view(page, 'Fit')
  await clickAt(page, [0, 0, 44])
  const facts = page.getByTestId('part-facts')
  await expect(facts).toContainText('peg/top')
  await expect(facts).toContainText('78.54 mm²') // pi 5^2
  const [x, y] = await screenOf(page, [5, 0, 44])
  await page.mouse.move(x, y)
  await expect(page.getByTestId('under')).toHaveText('edge, circle Ø 10')
  await page.mouse.click(x, y)
  await expect(facts).toContainText('peg/top | peg/wall')
  await expect(facts).toContainText('31.4159 mm') // 2 pi 5
})

test('a body is turned by its ring and moved by its arrows, and the section plane by its own', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'cube', cube())
  await tool(page, 'Set down', 'Turn')
  await card(page).getByLabel('Angle').fill('0')
  const [cx, cy] = await screenOf(page, [0, 0, 10])
  const spot = await screenOf(page, [1, 0, 10])
  // The ring is 58 pixels wide about z; its nearest point along x on the screen.
  const l = Math.hypot(spot[0] - cx, spot[1] - cy)
  const per = l // pixels a mm along x
  const reach = (await ringRadius(page)) * per
  await page.mouse.move(cx + ((spot[0] - cx) / l) * reach, cy + ((spot[1] - cy) / l) * reach)
  await page.mouse.down()
  const to = await screenOf(page, [0, 30, 10])
  await page.mouse.move((cx + to[0]) / 2 + (spot[0] - cx) * 15, (cy + to[1]) / 2 + (spot[1] - cy) * 15, { steps: 4 })
  await page.mouse.move(to[0], to[1], { steps: 6 })
  await page.mouse.up()
  await expect(card(page).getByLabel('Angle')).toHaveValue('90')
  await page.getByRole('button', { name: 'Cancel' }).click()

  await page.getByRole('button', { name: 'Section view' }).click()
  const at = page.getByLabel('Section 1 at')
  const before = Number(await at.inputValue())
  await dragFrom(page, [before + 2, 0, 10], [before + 14, 0, 10])
  const moved = Number(await at.inputValue())
  expect(moved).toBeGreaterThan(before + 6)
  expect(moved).toBeLessThan(before + 18)
  await page.getByRole('button', { name: 'Close the section view' }).click()
})

/** How many mm the ring's 58 pixels are at the middle of the cube. */
async function ringRadius(page: Page): Promise<number> {
  const [, y0] = await screenOf(page, [0, 0, 10])
  const view = await page.evaluate(() => document.querySelector('canvas')!.getBoundingClientRect().height)
  expect(view).toBeGreaterThan(100)
  // Along the screen's own upright a mm is shortened by the slope of the view; across it is not: measure across.
  const [xa, ya] = await screenOf(page, [0.53, 0.33, 10]),
    [xb, yb] = await screenOf(page, [-0.53, -0.33, 10])
  expect(y0).toBeGreaterThan(0)
  return 58 / (Math.hypot(xa - xb, ya - yb) / (2 * Math.hypot(0.53, 0.33)))
}

test('hovering renders nothing: no commit in React while the pointer moves over a scan', async ({ page: kept }) => {
  const page = await kept.context().newPage() // a script of its own stays with a page
  await page.addInitScript(() => {
    const w = window as unknown as { commits: number; __REACT_DEVTOOLS_GLOBAL_HOOK__: object }
    w.commits = 0
    w.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
      supportsFiber: true,
      renderers: new Map(),
      inject: () => 1,
      onCommitFiberRoot: () => w.commits++,
      onCommitFiberUnmount() {},
      onPostCommitFiberRoot() {},
      checkDCE() {},
    }
  })
  const bring = { id: 'a', kind: 'bring-in/file', set: { file: 'ball.stl', unit: 'mm', name: 'ball' } }
  await openRecipe(page, [bring], { 'ball.stl': shaken(sphere(20, 6), 0.05) })
  const commits = () => page.evaluate(() => (window as unknown as { commits: number }).commits)
  expect(await commits()).toBeGreaterThan(0) // they are counted at all
  const cursor = page.getByTestId('cursor')
  const [mx, my] = await screenOf(page, [0, 0, 0])
  await page.mouse.move(mx, my)
  await expect(cursor).toContainText('x ')
  const seen = new Set<string>()
  const from = await commits()
  for (let i = 0; i < 80; i++) {
    await page.mouse.move(mx - 20 + 0.5 * i, my - 20 + (i % 9) * 5)
    seen.add(await cursor.innerText())
  }
  expect(seen.size).toBeGreaterThan(5) // the figures followed
  expect(await commits()).toBe(from)
})

test('Esc takes back the last pick, then all picks, then the tool; nothing else is lost', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'cube', cube())
  await tool(page, 'Mend', 'Heal area')
  const picked = page.getByTestId('picked')
  await clickAt(page, [0, 0, 20])
  await expect(picked).toHaveText('32 triangles')
  await clickAt(page, [20, 0, 10])
  await expect(picked).toHaveText('64 triangles')
  await clickAt(page, [0, -20, 10])
  await expect(picked).toHaveText('96 triangles')
  await page.keyboard.press('Escape')
  await expect(picked).toHaveText('64 triangles')
  await page.keyboard.press('Control+Shift+z')
  await expect(picked).toHaveText('96 triangles')
  await page.keyboard.press('Control+z')
  await expect(picked).toHaveText('64 triangles')
  await page.keyboard.press('Escape')
  await expect(picked).toHaveText('32 triangles')
  await page.keyboard.press('Escape')
  await expect(picked).toHaveText('0 triangles')
  await expect(card(page)).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(card(page)).toBeHidden()
  await settled(page)
  await expect(page.getByTestId('body-cube')).toBeVisible()
})

test('a drawing context that the browser takes away is drawn again as it was, given back or not', async ({ page }) => {
  await openRecipe(page, [{ id: '1', kind: 'build/block', set: { name: 'block', size: [40, 30, 20], at: [0, 0, 0] } }])
  const bench = page.getByTestId('bench-canvas')
  await bench.focus()
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowLeft')
  const canvas = bench.locator('canvas').first()
  await page.mouse.move(5, 400)
  const shot = () => canvas.screenshot()
  const before = await shot()
  /** Takes the context away, and gives it back where that is asked for (WEBGL_lose_context, Khronos). */
  const lose = (again: boolean) =>
    canvas.evaluate(async (c, giveBack) => {
      const gl = (c as HTMLCanvasElement).getContext('webgl2')!
      const hand = gl.getExtension('WEBGL_lose_context')!
      hand.loseContext()
      await new Promise((r) => setTimeout(r, 300))
      if (giveBack) hand.restoreContext()
      return gl.isContextLost()
    }, again)
  await lose(true)
  await expect(async () => expect((await shot()).equals(before)).toBe(true)).toPass({ timeout: 10_000 })
  expect(await lose(false)).toBe(true)
  expect((await shot()).equals(before)).toBe(false)
  await expect(async () => expect((await shot()).equals(before)).toBe(true)).toPass({ timeout: 20_000 })
  // Hands work on it as before.
  await page.keyboard.press('ArrowLeft')
  await expect(async () => expect((await shot()).equals(before)).toBe(false)).toPass()
})

test('a job and a step are renamed in a dialog; a long name ends in an ellipsis', async ({ page }) => {
  await newJob(page)
  await bringIn(page, 'cube', cube())
  const long = 'Gate bracket with a name that is far too long for the head of the page'
  await page.locator('.job-title button').click()
  await page.getByLabel('Name of this job').fill(long)
  await page.getByRole('dialog').getByRole('button', { name: 'Rename' }).click()
  await expect(page.locator('.job-title button')).toHaveText(long)
  await expect(page.locator('.job-title button')).toHaveAttribute('title', new RegExp(long))
  const fits = await page.locator('.job-title').evaluate((e) => e.getBoundingClientRect().width)
  expect(fits).toBeLessThan(260)
  await page.locator('[data-testid^="step-"]').first().hover()
  await page.getByRole('button', { name: 'Rename step' }).first().click()
  await page.getByLabel('Name of this step').fill('The cube')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-testid^="step-"]').first()).toContainText('The cube')
})
