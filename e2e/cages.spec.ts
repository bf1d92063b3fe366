/** Freeform jobs of the boat workshop: a bow fairing built from sections, and a fender skin laid over a scanned side. */
import { expect, test } from './kept-browser'
import { meshArea } from '@/core/mesh/measures'
import { meshFrom, type TriMesh } from '@/core/mesh/tri-mesh'
import {
  apply,
  bringIn,
  card,
  figure,
  figureNumber,
  fill,
  newJob,
  openRecipe,
  pickBody,
  screenAt,
  settled,
  tool,
  touchAt,
  view,
  volume,
  hideBody,
} from './bench'

/** The port side of a bow, from its keel on y = 0 up to the sheer: an open skin that looks outward. */
function bowSide(n = 60, m = 24): TriMesh {
  const p: number[] = []
  const t: number[] = []
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= m; j++) {
      const [x, v] = [(60 * i) / n, j / m]
      p.push(x, (4 + 16 * (x / 60) ** 0.8) * Math.sin((Math.PI / 2) * v), 30 * v ** 1.4)
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const a = i * (m + 1) + j
      t.push(a, a + 1, a + m + 1, a + 1, a + m + 2, a + m + 1)
    }
  return meshFrom(p, t)
}

test(
  'a bow fairing: sections lofted to a cage, mirrored, a ring of edges merged, and a smooth sheet of it',
  { tag: '@long' },
  async ({ page }) => {
    test.setTimeout(240_000)
    const side = bowSide()
    await newJob(page)
    await bringIn(page, 'bow side', side)
    await tool(page, 'Convert', 'Section line')
    await card(page).getByLabel('Plane through x', { exact: true }).fill('3')
    await card(page).getByLabel('Square to x', { exact: true }).fill('1')
    await card(page).getByLabel('Square to z', { exact: true }).fill('0')
    await fill(page, 'Planes', '4')
    await fill(page, 'Apart by', '18')
    await fill(page, 'Name', 'station')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-station 4')).toBeVisible()

    await tool(page, 'Convert', 'Cage from sections')
    for (const name of ['station 1', 'station 2', 'station 3', 'station 4'])
      await card(page).getByRole('checkbox', { name, exact: true }).check()
    await fill(page, 'Faces along each section', '6')
    await fill(page, 'Rows between two sections', '2')
    await expect.poll(() => figureNumber(page, 'Off the sections by at most'), { timeout: 120_000 }).toBeLessThan(0.3)
    await fill(page, 'Name', 'fairing')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-fairing')).toContainText('open')
    await hideBody(page, 'bow side')

    // Mirrored and welded at the keel.
    await pickBody(page, 'fairing')
    await tool(page, 'Convert', 'Edit cage')
    await expect(page.locator('.hint')).toContainText('Click a point of the cage')
    await page.getByRole('toolbar', { name: 'Tools of the cage' }).getByRole('button', { name: 'Mirror' }).click()
    await card(page).getByRole('radio', { name: 'to y' }).click()
    await card(page).getByRole('button', { name: 'Mirror', exact: true }).click()
    await expect(page.getByTestId('cage-edits')).toContainText('1 edit')
    await card(page).getByRole('radio', { name: 'Faces' }).click()
    await card(page).getByRole('button', { name: 'all', exact: true }).click()
    await expect(page.getByTestId('cage-picked')).toHaveText('72 faces')
    await card(page).getByRole('button', { name: 'none', exact: true }).click()

    // The first row of faces is closed up: the ring of edges that runs round it comes together edge by edge.
    await view(page, 'Left')
    await card(page).getByRole('radio', { name: 'Edges' }).click()
    await card(page).getByRole('radio', { name: 'Ring' }).click()
    const [x, y] = await screenAt(page, [7.5, 20.2 * 0.33, 30])
    await page.mouse.move(x, y + 1)
    await expect(async () => {
      await page.mouse.click(x, y)
      await expect(page.getByTestId('cage-picked')).toHaveText(/^13 edges$/, { timeout: 2000 })
    }).toPass({ timeout: 30_000 })
    await page.getByRole('group', { name: 'Groups of tools' }).getByRole('button', { name: 'Join' }).click()
    await page.getByRole('toolbar', { name: 'Tools of the cage' }).getByRole('button', { name: 'Merge' }).click()
    await card(page).getByRole('button', { name: 'Merge', exact: true }).click()
    await expect(page.getByTestId('cage-edits')).toContainText('2 edits')
    // What cannot be done is told and not kept.
    await page.getByRole('toolbar', { name: 'Tools of the cage' }).getByRole('button', { name: 'Weld' }).click()
    await card(page).getByRole('button', { name: 'Weld', exact: true }).click()
    await expect(page.getByTestId('refused')).toContainText('No points at rims lie within')
    await expect(page.getByTestId('cage-edits')).toContainText('2 edits')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('step-s4')).toContainText('60 faces')

    await tool(page, 'Convert', 'Smooth solid')
    await fill(page, 'Name', 'fairing skin')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-fairing skin')).toContainText('sheet')
    await pickBody(page, 'fairing skin')
    const area = 100 * Number((await figure(page, 'readout', 'Area')).replace(/[^0-9.]/g, '')) // cm²
    // Both sides from x = 3 to 57, less half a row at the front that went.
    const whole = 2 * meshArea(side) * (54 / 60)
    expect(area).toBeGreaterThan(whole * 0.85)
    expect(area).toBeLessThan(whole * 1.02)
  },
)

test('another cage becomes part of the one in hand, and is used up by it', async ({ page }) => {
  await openRecipe(page, [
    { id: 'a', kind: 'convert/cage-shape', set: { name: 'socket' } },
    { id: 'b', kind: 'convert/cage-shape', set: { name: 'stub', at: [60, 0, 0] } },
  ])
  await pickBody(page, 'socket')
  await tool(page, 'Convert', 'Edit cage')
  await card(page).getByRole('radio', { name: 'Faces' }).click()
  const picked = page.getByTestId('cage-picked')
  const all = async () => {
    await card(page).getByRole('button', { name: 'all', exact: true }).click()
    return Number((await picked.innerText()).split(' ')[0])
  }
  // Twelve over, twelve under, twenty-eight round the sides of a block of 4 x 3 x 2.
  await expect.poll(all).toBe(52)
  await card(page).getByRole('button', { name: /^More/ }).click()
  await expect(card(page).getByRole('checkbox', { name: 'socket', exact: true })).toHaveCount(0)
  await card(page).getByRole('checkbox', { name: 'stub', exact: true }).check()
  await expect.poll(all).toBe(104)
  await page.getByRole('group', { name: 'Groups of tools' }).getByRole('button', { name: 'Grow' }).click()
  await page.getByRole('toolbar', { name: 'Tools of the cage' }).getByRole('button', { name: 'Subdivide' }).click()
  await expect(page.getByTestId('cage-edits')).toContainText('1 edit')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('step-s3')).toContainText('416 faces')
  await expect(page.getByTestId('body-stub')).toHaveCount(0)
})

/** A hull fender as scanned: the cap of an elliptic paraboloid 90 x 44 x 16 mm, seen down to where its rim hides the deck. */
function fenderScan(n = 24, m = 96): TriMesh {
  const p: number[] = [0, 0, 16]
  const t: number[] = []
  for (let i = 1; i <= n; i++)
    for (let j = 0; j < m; j++) {
      const [r, a] = [(0.93 * i) / n, (2 * Math.PI * j) / m]
      p.push(45 * r * Math.cos(a), 22 * r * Math.sin(a), 16 * (1 - r * r))
    }
  for (let j = 0; j < m; j++) t.push(0, 1 + j, 1 + ((j + 1) % m))
  for (let i = 0; i + 1 < n; i++)
    for (let j = 0; j < m; j++) {
      const [a, b] = [1 + i * m + j, 1 + i * m + ((j + 1) % m)]
      t.push(a, a + m, b, b, a + m, b + m)
    }
  return meshFrom(p, t)
}

test(
  'a fender skin: raised until inside, extended, trimmed by the deck plane, sewn to a solid, shelled, its distance proved',
  { tag: '@long' },
  async ({ page }) => {
    test.setTimeout(300_000)
    await newJob(page)
    await bringIn(page, 'fender scan', fenderScan())
    await tool(page, 'Convert', 'Skin region')
    await page.getByRole('button', { name: 'Whole piece' }).click()
    await touchAt(page, [0, 0, 16])
    await expect(card(page)).toContainText(/4.512 triangles/)
    await fill(page, 'Tolerance', '0.03')
    await fill(page, 'Goes on past the region by', '2')
    await fill(page, 'Name', 'fender')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-fender')).toContainText('sheet')
    await expect(page.getByTestId('step-s2')).toContainText(/off the region by at most 0\.0[0-3]/)
    await hideBody(page, 'fender scan')

    // Each edge a little farther, until all of the rim is below the deck.
    const [x, y] = [45 * 0.93 + 2, 22 * 0.93 + 2]
    const height = (u: number, v: number) => 16 * (1 - (u / 45) ** 2 - (v / 22) ** 2)
    await view(page, 'Top')
    await tool(page, 'Build', 'Extend sheet')
    for (const [u, v] of [
      [x, 0],
      [-x, 0],
      [0, y],
      [0, -y],
    ])
      await touchAt(page, [u, v, height(u, v)])
    await fill(page, 'By', '4')
    await expect.poll(() => figureNumber(page, 'Area'), { timeout: 120_000 }).toBeGreaterThan(6500)
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Plane')
    await fill(page, 'Name', 'deck')
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Trim sheet')
    await card(page).getByLabel('Sheet').selectOption('fender')
    await card(page).getByRole('checkbox', { name: 'deck' }).check()
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Cap openings')
    await card(page).getByLabel('Sheet').selectOption('fender')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-fender')).toContainText('solid · closed')
    await pickBody(page, 'fender')
    // Half the cylinder round it: pi a b h / 2.
    const whole = await volume(page)
    const closed = (Math.PI * 45 * 22 * 16) / 2
    expect(Math.abs(whole / closed - 1)).toBeLessThan(0.003)

    await view(page, 'Under')
    await tool(page, 'Build', 'Shell')
    await touchAt(page, [0, 0, 0])
    await fill(page, 'Wall', '1.5')
    await expect.poll(() => figureNumber(page, 'Volume'), { timeout: 120_000 }).toBeLessThan(-15)
    await apply(page)
    await settled(page)
    await pickBody(page, 'fender')
    const walls = await volume(page)
    // Its skin of some 39.6 cm² times the wall, a little less on the hollow side.
    expect(walls).toBeGreaterThan(3959 * 1.5 * 0.9)
    expect(walls).toBeLessThan(3959 * 1.5)
    // How far the scan lies off it.
    await tool(page, 'Prove', 'Deviation')
    await card(page).getByLabel('Body', { exact: true }).selectOption('fender scan')
    await card(page).getByLabel('Against').selectOption('fender')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('step-s8')).toContainText(/\d mm/)
  },
)
