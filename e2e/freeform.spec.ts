/** The freeform way: a carved shape becomes a net, a cage that runs through the scan, and a smooth solid that is worked on and sent out. */
import { readFileSync } from 'node:fs'
import { expect, test } from './kept-browser'
import { gripShape, tillerShape } from '@/core/scan/shapes'
import { meshVolume } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import {
  apply,
  bringIn,
  card,
  figure,
  fill,
  newJob,
  pickBody,
  screenAt,
  settled,
  tool,
  touchAt,
  volume,
  way,
  hideBody,
} from './bench'

/** The greatest height of a mesh near an x. */
const topAt = ({ positions: p }: TriMesh, x: number): number => {
  let top = -Infinity
  for (let o = 0; o < p.length; o += 3) if (Math.abs(p[o] - x) < 3) top = Math.max(top, p[o + 2])
  return top
}

test(
  'a carved grip becomes a net, a cage through the scan, gets a thumb rest, and is a smooth solid with a bored pin hole, out as STEP',
  { tag: '@long' },
  async ({ page }) => {
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

    // A thumb rest: the face on top of the middle is pulled up, and its neighbours go along.
    for (const other of ['grip', 'grip net']) await hideBody(page, other)
    await tool(page, 'Convert', 'Edit cage')
    await card(page).getByLabel('Cage', { exact: true }).selectOption('grip cage')
    await card(page).getByLabel('Scan', { exact: true }).selectOption('grip')
    await card(page).getByRole('radio', { name: 'Faces' }).click()
    const [x, y] = await screenAt(page, [0, 0, topAt(carved, 0)])
    await expect(page.locator('.hint')).toContainText('Click a face of the cage')
    await page.mouse.click(x, y)
    await expect(page.getByTestId('cage-picked')).toHaveText('1 face')
    await fill(page, 'Soft reach', '25')
    await page.mouse.move(x, y - 25)
    await page.mouse.down()
    await page.mouse.move(x, y - 40)
    await page.mouse.move(x, y - 55)
    await page.mouse.up()
    await expect(page.getByTestId('cage-edits')).toContainText(/Move1 face · \d+(\.\d+)? mm/)
    const pulled = Number(/(\d+(\.\d+)?) mm/.exec(await page.getByTestId('cage-edits').innerText())![1])
    expect(pulled).toBeGreaterThan(2)
    // Taken back and done again.
    await page.keyboard.press('Control+z')
    await expect(page.getByTestId('cage-card')).toContainText('Nothing is edited yet')
    await page.keyboard.press('Control+y')
    await expect(page.getByTestId('cage-edits')).toContainText('1 edit')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('step-s4')).toContainText('1 edit · ')

    await tool(page, 'Convert', 'Smooth solid')
    await card(page).getByLabel('Cage or net').selectOption('grip cage')
    await fill(page, 'Name', 'smooth grip')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-smooth grip')).toContainText('solid · closed')
    await pickBody(page, 'smooth grip')
    const whole = await volume(page)
    // Within a hundredth the carved grip, and the rest on it: about a cone's share of its reach.
    const rest = whole - meshVolume(carved)
    expect(rest).toBeGreaterThan(pulled * 100)
    expect(rest).toBeLessThan(pulled * 1500)

    await hideBody(page, 'grip cage')
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
  },
)

test(
  'a tiller head: a net mirrored at a plane, a smooth solid cut flat beneath, and a turned socket joined on',
  { tag: '@long' },
  async ({ page }) => {
    test.setTimeout(300_000)
    await newJob(page)
    await bringIn(page, 'head', tillerShape(70, 48))
    await tool(page, 'Convert', 'Quad net')
    await fill(page, 'Quads', '300')
    await card(page).getByRole('button', { name: 'More' }).click()
    await card(page).getByRole('checkbox', { name: 'y = 0' }).click()
    await fill(page, 'Name', 'head net')
    await apply(page)
    await settled(page)
    await tool(page, 'Convert', 'Smooth solid')
    await card(page).getByLabel('Cage or net').selectOption('head net')
    await fill(page, 'Name', 'tiller')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-tiller')).toContainText('solid · closed')
    await pickBody(page, 'tiller')
    const whole = await volume(page)
    // Mirrored: its middle lies in the plane.
    const [, y] = (await figure(page, 'readout', 'Centre of mass')).split(',').map(Number)
    expect(Math.abs(y)).toBeLessThan(0.02)

    for (const other of ['head', 'head net']) await hideBody(page, other)
    await tool(page, 'Build', 'Cut by plane')
    await card(page).getByLabel('Plane through z', { exact: true }).fill('-8')
    await card(page).getByLabel('Plane through z', { exact: true }).blur()
    await apply(page)
    await settled(page)
    await pickBody(page, 'tiller')
    const flat = await volume(page)
    expect(flat).toBeLessThan(whole * 0.97)
    expect(flat).toBeGreaterThan(whole * 0.6)

    // The socket: a rectangle beside the axis, turned about it.
    await tool(page, 'Build', 'Outline')
    await way(page, 'Draw', 'Rectangle')
    await touchAt(page, [36, 4, 0])
    await touchAt(page, [60, 8, 0])
    await expect(page.locator('[data-testid=drawing] .curve')).toHaveCount(4)
    await fill(page, 'Name', 'wall')
    await apply(page)
    await settled(page)
    await page.getByRole('button', { name: 'Corner', exact: true }).click()
    await tool(page, 'Build', 'Revolve')
    await card(page).getByLabel('Outline', { exact: true }).selectOption('wall')
    await card(page).getByLabel('Axis along x', { exact: true }).fill('1')
    await card(page).getByLabel('Axis along z', { exact: true }).fill('0')
    await card(page).getByLabel('Axis along z', { exact: true }).blur()
    await fill(page, 'Name', 'socket')
    await apply(page)
    await settled(page)
    await pickBody(page, 'socket')
    const ring = await volume(page)
    expect(ring).toBeGreaterThan(1000)
    await pickBody(page, 'tiller')
    await tool(page, 'Build', 'Union')
    await expect(card(page).getByLabel('tiller', { exact: true })).toBeChecked()
    await card(page).getByLabel('socket', { exact: true }).check()
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-socket')).toHaveCount(0)
    await pickBody(page, 'tiller')
    const joined = await volume(page)
    expect(joined).toBeGreaterThan(flat + 0.3 * ring)
    expect(joined).toBeLessThan(flat + ring)
    await expect(page.getByTestId('body-tiller')).toContainText('solid · closed')
  },
)
