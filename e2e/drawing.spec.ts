/** Drawing on the bench: by places and typed numbers, held to constraints, changed by its figures, traced from a section. */
import { expect, test, type Page } from './kept-browser'
import DxfParser from 'dxf-parser'
import { bracketShape, bungShape } from '@/core/scan/shapes'
import { meshVolume } from '@/core/mesh/measures'
import { scoop } from '@/testing/profiles'
import {
  apply,
  bringIn,
  card,
  figure,
  figureNumber,
  fill,
  newJob,
  pickBody,
  screenAt,
  settled,
  tool,
  touchAt,
  way,
} from './bench'

type Point = readonly [number, number]

/** Where a place of the floor plane stands on the screen. */
const screen = (page: Page, [u, v]: Point, z = 0) => screenAt(page, [u, v, z])
async function move(page: Page, p: Point, z = 0) {
  const [x, y] = await screen(page, p, z)
  await page.mouse.move(x + 2, y + 2)
  await page.mouse.move(x, y)
}
async function click(page: Page, p: Point, z = 0) {
  await move(page, p, z)
  const [x, y] = await screen(page, p, z)
  await page.mouse.click(x, y)
}
const groups = (page: Page) => page.getByRole('group', { name: 'Groups of tools' })
const freedom = (page: Page) => page.getByTestId('freedom')
const curves = (page: Page) => page.locator('[data-testid=drawing] .curve')

/** A fresh drawing on the floor. */
async function draw(page: Page) {
  await newJob(page)
  await tool(page, 'Build', 'Outline')
  await expect(page.getByRole('toolbar', { name: 'Tools of the drawing' })).toBeVisible()
}

test('a plate is drawn by typed numbers, held, changed by its figures, and its area follows', async ({ page }) => {
  await draw(page)
  await way(page, 'Draw', 'Rectangle')
  await click(page, [-20, -10])
  await move(page, [10, 8])
  await page.keyboard.type('40 24')
  await expect(page.getByTestId('typed')).toContainText('40 24')
  await page.keyboard.press('Enter')
  await expect(curves(page)).toHaveCount(4)
  await expect(card(page)).toContainText('2 dimensions')
  await expect(freedom(page)).toContainText('2 ways to move')
  // A bore, its diameter typed.
  await way(page, 'Draw', 'Circle')
  await click(page, [-8, 2])
  await move(page, [-3, 2])
  await page.keyboard.type('6')
  await page.keyboard.press('Enter')
  await expect(card(page)).toContainText('3 dimensions')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('931.73 mm²') // 40 · 24 - 9 π
  // Pick the lower line and fix it: with both lengths nothing of the plate can move but the bore.
  await way(page, 'Draw', 'Pick')
  await click(page, [0, -10])
  await groups(page).getByRole('button', { name: 'Hold to' }).click()
  await page.getByRole('button', { name: 'Fixed', exact: true }).click()
  await expect(freedom(page)).toContainText('2 ways to move')
  // Its length is fixed now: the dimension says it again, and is named when it is changed.
  await page.getByRole('button', { name: '24', exact: true }).click()
  await page.getByRole('textbox', { name: /^New value of/ }).fill('20')
  await page.keyboard.press('Enter')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('771.73 mm²')
  // Taken back step by step inside the drawing.
  await page.getByTestId('bench-canvas').focus()
  await page.keyboard.press('Control+z')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('931.73 mm²')
  await apply(page)
  await settled(page)
  // Opened again, it is the same drawing, and another number ten steps later runs it again.
  await page.getByRole('button', { name: /^Edit step/ }).click()
  await expect(curves(page)).toHaveCount(5)
  await page.getByRole('button', { name: '⌀ 6', exact: true }).click()
  await page.getByRole('textbox', { name: /^New value of/ }).fill('10')
  await page.keyboard.press('Enter')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('881.46 mm²')
  await apply(page)
  await settled(page)
  await expect(page.getByTestId('readout')).toContainText('159.416 mm')
})

test('what contradicts is refused with its names, and can stay as measured only; corners are rounded, pieces trimmed, points dragged', async ({
  page,
}) => {
  await draw(page)
  await way(page, 'Draw', 'Rectangle')
  await click(page, [-20, -10])
  await move(page, [10, 8])
  await page.keyboard.type('40 20')
  await page.keyboard.press('Enter')
  await expect(card(page)).toContainText('2 dimensions')
  // A third length, of the side across, says again what holds.
  await way(page, 'Draw', 'Pick')
  await click(page, [0, 10])
  await groups(page).getByRole('button', { name: 'Measure' }).click()
  await page.getByRole('button', { name: 'Length', exact: true }).click()
  await expect(page.getByTestId('refused')).toContainText('says again what holds already')
  await page.getByTestId('refused').getByRole('button', { name: 'Only measure it' }).click()
  await expect(page.getByRole('button', { name: '(40)', exact: true })).toBeVisible()
  // A rounded corner: 800 - (1 - π/4) 9.
  await way(page, 'Change', 'Round corner')
  await click(page, [20, 10])
  await expect(curves(page)).toHaveCount(5)
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('798.07 mm²')
  // A line across, trimmed to what lies within.
  await way(page, 'Draw', 'Line')
  await click(page, [6, -16])
  await click(page, [6, 16])
  await page.keyboard.press('Escape')
  await expect(curves(page)).toHaveCount(6)
  await way(page, 'Change', 'Trim')
  await click(page, [6, -14])
  await click(page, [6, 14])
  await expect(card(page)).toContainText('2 areas')
  await expect(card(page)).not.toContainText('open end')
  // Dragged by its upper end the line stays on both sides, which stay where they are.
  await way(page, 'Draw', 'Pick')
  const [x, y] = await screen(page, [6, 10])
  const [tx, ty] = await screen(page, [10, 13])
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move((x + tx) / 2, (y + ty) / 2)
  await page.mouse.move(tx, ty)
  await expect.poll(async () => (await curves(page).nth(5).getAttribute('d')) ?? '').not.toContain(`${x.toFixed(0)}`)
  await page.mouse.up()
  await expect(card(page)).toContainText('2 areas')
  await expect(card(page)).not.toContainText('open end')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('798.07 mm²')
})

test('the bores of the gate bracket are fitted on its section, proposed equal and round, and one number changes them', async ({
  page,
}) => {
  await newJob(page)
  await bringIn(page, 'bracket', await bracketShape())
  await tool(page, 'Convert', 'Section line')
  await card(page).getByLabel('Plane through z').fill('5.5')
  await card(page).getByLabel('Plane through z').blur()
  await apply(page)
  await settled(page)
  await tool(page, 'Build', 'Outline')
  await card(page).getByLabel('On', { exact: true }).selectOption('section')
  await expect(page.locator('[data-testid=drawing] .reference')).toHaveCount(6)
  await way(page, 'Trace', 'Circle')
  const rims = await page.evaluate(() =>
    [...document.querySelectorAll<SVGPathElement>('[data-testid=drawing] .reference')].map((p) => {
      const long = p.getTotalLength(),
        q = p.getPointAtLength(long * 0.3),
        box = p.ownerSVGElement!.getBoundingClientRect()
      return { x: q.x + box.left, y: q.y + box.top, long }
    }),
  )
  const bores = rims.sort((a, b) => a.long - b.long).slice(0, 4)
  for (const [i, { x, y }] of bores.entries()) {
    await page.mouse.move(x, y)
    await page.mouse.click(x, y)
    await expect(curves(page)).toHaveCount(i + 1)
  }
  await expect(page.getByTestId('fitted')).toContainText('off by at most')
  // Equal radii and their round diameter are proposed, not forced.
  await page.getByTestId('proposed').locator('summary').click()
  await expect(page.getByTestId('proposed')).toContainText('equal')
  await page.getByTestId('proposed').getByRole('button', { name: 'Hold to all of them' }).click()
  await expect(freedom(page)).toContainText('8 ways to move')
  await expect(card(page)).toContainText('1 dimension')
  // The centres are fixed; then one diameter is all there is.
  await way(page, 'Draw', 'Pick')
  const centres = await page.evaluate(() =>
    [...document.querySelectorAll<SVGCircleElement>('[data-testid=drawing] .corner')].map((c) => {
      const box = c.ownerSVGElement!.getBoundingClientRect()
      return [c.cx.baseVal.value + box.left, c.cy.baseVal.value + box.top]
    }),
  )
  for (const [x, y] of centres) await page.mouse.click(x, y)
  await groups(page).getByRole('button', { name: 'Hold to' }).click()
  await page.getByRole('button', { name: 'Fixed', exact: true }).click()
  await expect(freedom(page)).toContainText('Nothing can move')
  const figures = page.locator('.dimension-figure')
  await expect(figures).toHaveCount(1)
  await figures.first().click()
  await page.getByRole('textbox', { name: /^New value of/ }).fill('2*3.4')
  await page.keyboard.press('Enter')
  await expect.poll(() => figure(page, 'ghost-figures', 'Enclosed area')).toBe('145.27 mm²') // 4 π 3.4²
  await apply(page)
  await settled(page)
  // Plugs of that size, both ways from the section, fill the bores and overlap the plate on purpose.
  const value = (label: string) => figureNumber(page, label)
  await pickBody(page, 'outline')
  await tool(page, 'Build', 'Extrude')
  await fill(page, 'Distance', '0.5')
  await fill(page, 'Back by', '5.5')
  await card(page).getByLabel('Result').selectOption('join')
  await expect(card(page).getByLabel('Body', { exact: true })).toHaveValue('bracket')
  const bore = (4 * Math.PI * 5.08 ** 2 * 6) / 4
  const plugged = meshVolume(await bracketShape()) + bore
  await expect.poll(() => value('Volume'), { timeout: 120_000 }).toBeCloseTo(plugged / 1000, 1)
  await apply(page)
  await settled(page)
  // Holes of M3 clearance (ISO 273, medium) at the centres of the same circles.
  await pickBody(page, 'bracket')
  await tool(page, 'Build', 'Hole')
  await card(page).getByLabel('At the points of').selectOption('outline')
  await card(page).getByLabel('Standard size').selectOption('M3 medium')
  const drilled = 4 * Math.PI * 1.7 ** 2 * 6
  await expect.poll(() => value('Volume'), { timeout: 120_000 }).toBeCloseTo(-drilled, -1)
  await apply(page)
  await settled(page)
})

test(
  "a scoop's rim of several hundred bits becomes two splines in two picks, and goes out as DXF that an independent parser reads",
  { tag: '@long' },
  async ({ page }) => {
    await newJob(page)
    const rim = scoop.sides.flatMap((side) =>
      'bend' in side ? Array.from({ length: 150 }, (_, i) => side.bend(i / 150)) : [],
    )
    expect(rim).toHaveLength(300)
    const pairs = ['0', 'SECTION', '2', 'ENTITIES', '0', 'LWPOLYLINE', '8', 'rim', '90', String(rim.length), '70', '1']
    for (const [u, v] of rim) pairs.push('10', u.toFixed(6), '20', v.toFixed(6))
    const file = Buffer.from(`${[...pairs, '0', 'ENDSEC', '0', 'EOF'].join('\n')}\n`)
    await page.getByTestId('file-input').setInputFiles({ name: 'rim.dxf', mimeType: 'image/vnd.dxf', buffer: file })
    await apply(page)
    await settled(page)
    await pickBody(page, 'rim')
    await tool(page, 'Build', 'Outline')
    await expect(page.locator('[data-testid=drawing] .reference')).toHaveCount(1)
    await way(page, 'Trace', 'Spline')
    // From one corner to the other the short way, then the long way round with Shift.
    for (const [i, long] of [false, true].entries()) {
      await click(page, [0, 0])
      await move(page, [60, 0])
      if (long) await page.keyboard.down('Shift')
      await click(page, [90, 0])
      if (long) await page.keyboard.up('Shift')
      await expect(curves(page)).toHaveCount(i + 1)
      await expect(page.getByTestId('fitted')).toContainText('off by at most 0.0')
    }
    await expect(card(page)).toContainText('1 area')
    await expect(card(page)).not.toContainText('open end')
    await apply(page)
    await settled(page)
    await pickBody(page, 'outline')
    await expect(page.getByTestId('readout')).toContainText(/Curves\s*2/)
    await tool(page, 'Send out', 'Send out file')
    await card(page).getByLabel('File name').fill('scoop.dxf')
    await card(page).getByLabel('File name').blur()
    await apply(page)
    await settled(page)
    const link = page.getByRole('link', { name: 'Save scoop.dxf' })
    const sent = await page.request.get((await link.getAttribute('href'))!)
    const parsed = new DxfParser().parseSync(await sent.text())!
    expect(parsed.entities.length).toBeGreaterThanOrEqual(2)
    expect(parsed.entities.every((e) => e.type === 'SPLINE' || e.type === 'POLYLINE')).toBe(true)
  },
)

test(
  "a drain bung's half profile is traced from its section, its lugs from a second one: lines held and dragged out",
  { tag: '@long' },
  async ({ page }) => {
    await newJob(page)
    await bringIn(page, 'bung', await bungShape())
    await tool(page, 'Convert', 'Section line')
    const at = (x: number, y: number, z: number) => screenAt(page, [x, y, z])
    const touch = (x: number, y: number, z: number) => touchAt(page, [x, y, z])
    for (const [axis, v] of [
      ['y', '-1'],
      ['z', '0'],
    ] as const) {
      await card(page).getByLabel(`Square to ${axis}`).fill(v)
      await card(page).getByLabel(`Square to ${axis}`).blur()
    }
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Outline')
    await card(page).getByLabel('On', { exact: true }).selectOption('section')
    await expect(page.locator('[data-testid=drawing] .reference')).toHaveCount(1)
    // From corner to corner, the stem's wall above its lug; where two pieces nearly meet they are brought together.
    const pieces: ['Line' | 'Arc', [number, number], [number, number]][] = [
      ['Line', [8, 0], [9, 1]],
      ['Line', [9, 7], [9, 12]],
      ['Line', [9, 12], [14, 12]],
      ['Line', [14, 12], [14, 14]],
      ['Arc', [14, 14], [12, 16]],
      ['Line', [12, 16], [5, 16]],
      ['Line', [5, 16], [5, 24]],
      ['Arc', [5, 24], [4, 25]],
    ]
    let now = ''
    for (const [i, [sort, a, b]] of pieces.entries()) {
      if (sort !== now) await way(page, 'Trace', sort)
      now = sort
      await touch(a[0], 0, a[1])
      await touch(b[0], 0, b[1])
      await expect(curves(page)).toHaveCount(i + 1)
    }
    await expect(page.getByTestId('fitted')).toContainText('off by at most 0')
    // What the section does not tell is drawn: down the stem past the lug, along the top, the axis, and the foot.
    await way(page, 'Draw', 'Line')
    await touch(9, 0, 1)
    await touch(9, 0, 7)
    await touch(4, 0, 25)
    await touch(0, 0, 25)
    await touch(0, 0, 0)
    await touch(8, 0, 0)
    await page.keyboard.press('Escape')
    // Flange, stem and knob, less a chamfer and two round corners.
    const area = 9 * 12 - 0.5 + 14 * 4 - 4 * (1 - Math.PI / 4) + 5 * 9 - (1 - Math.PI / 4)
    await expect.poll(() => figureNumber(page, 'Enclosed area')).toBeCloseTo(area, 1)
    await apply(page)
    await settled(page)
    // Turned about its axis: Pappus, ring by ring.
    const value = (label: string) => figureNumber(page, label)
    await pickBody(page, 'outline')
    await tool(page, 'Build', 'Revolve')
    const sliver = (10 - 3 * Math.PI) / (12 - 3 * Math.PI)
    const rounds = (1 - Math.PI / 4) * 2 * Math.PI * (4 * (14 - 2 * sliver) + 1 * (5 - sliver))
    const turned = (Math.PI / 3) * (64 + 72 + 81) + Math.PI * (81 * 11 + 196 * 4 + 25 * 9) - rounds
    await expect.poll(() => value('Volume'), { timeout: 120_000 }).toBeCloseTo(turned / 1000, 1)
    await apply(page)
    await settled(page)
    // The second section, through the lugs.
    await pickBody(page, 'bung')
    await tool(page, 'Convert', 'Section line')
    await card(page).getByLabel('Plane through z').fill('5')
    await card(page).getByLabel('Plane through z').blur()
    await apply(page)
    await settled(page)
    await tool(page, 'Build', 'Outline')
    await card(page).getByLabel('On', { exact: true }).selectOption('section 2')
    await expect(page.locator('[data-testid=drawing] .reference')).toHaveCount(1)
    await way(page, 'Trace', 'Line')
    const root = Math.sqrt(81 - 9)
    for (const [i, [a, b]] of [
      [
        [root, 3],
        [13, 3],
      ],
      [
        [13, 3],
        [13, -3],
      ],
      [
        [13, -3],
        [root, -3],
      ],
    ].entries()) {
      await touch(a[0], a[1], 5)
      await touch(b[0], b[1], 5)
      await expect(curves(page)).toHaveCount(i + 1)
    }
    await page.getByTestId('proposed').locator('summary').click()
    await page.getByTestId('proposed').getByRole('button', { name: 'Hold to all of them' }).click()
    // The end is dragged out by 3 mm; the sides stay level.
    await way(page, 'Draw', 'Pick')
    const [u, v] = await at(13, 1, 5),
      [s, t] = await at(16, 1, 5)
    await page.mouse.move(u, v)
    await page.mouse.down()
    await page.mouse.move((u + s) / 2, (v + t) / 2, { steps: 3 })
    await page.mouse.move(s, t, { steps: 3 })
    await page.mouse.up()
    await way(page, 'Draw', 'Line')
    await touch(root, 3, 5)
    await touch(root, -3, 5)
    await page.keyboard.press('Escape')
    await expect.poll(() => figureNumber(page, 'Enclosed area')).toBeCloseTo(6 * (16 - root), 0)
    await apply(page)
    await settled(page)
    // The lug is drawn out half to each side of its section and joined to the turned body: exact with exact stays exact.
    await pickBody(page, 'outline 2')
    await tool(page, 'Build', 'Extrude')
    await fill(page, 'Distance', '4')
    await card(page).getByLabel('Half to each side').check()
    await card(page).getByLabel('Result').selectOption('join')
    await card(page).getByLabel('Body', { exact: true }).selectOption('turning')
    const within = 81 * (Math.asin(1 / 3) - (1 / 3) * Math.sqrt(8 / 9))
    await expect
      .poll(() => value('Volume'), { timeout: 120_000 })
      .toBeCloseTo((turned + 4 * (6 * (16 - root) - within)) / 1000, 1)
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-turning')).toContainText('solid')
  },
)

test('a value of the job stands in a number field, and a change of it runs what speaks of it', async ({ page }) => {
  await newJob(page)
  await page.getByRole('button', { name: 'Add a value' }).click()
  await page.getByRole('textbox', { name: /^Name, as in/ }).fill('wall')
  await page.keyboard.press('Enter')
  await page.getByRole('textbox', { name: 'Value wall' }).fill('4')
  await page.keyboard.press('Enter')
  await tool(page, 'Build', 'Cylinder')
  const height = card(page).getByLabel('Height', { exact: true })
  await height.fill('2*wall + 2')
  await height.blur()
  const radius = card(page).getByLabel('Radius', { exact: true })
  await radius.fill('wall')
  await radius.blur()
  await expect.poll(() => figure(page, 'ghost-figures', 'Volume')).toContain('502.') // 16 π 10
  await apply(page)
  await settled(page)
  await page.getByRole('textbox', { name: 'Value wall' }).fill('1/4 in')
  await page.keyboard.press('Enter')
  // 6.35² π 14.7
  await expect(page.getByTestId('readout')).toContainText(/1\s?862|1\.86/)
  // One that is spoken of is not taken away.
  await page.getByRole('button', { name: 'Take away value wall' }).click()
  await expect(page.getByRole('alert').first()).toContainText('spoken of in 1 step')
})

test('words are laid straight and round a circle, and enclose what their letters do', async ({ page }) => {
  await draw(page)
  await way(page, 'Draw', 'Circle')
  await click(page, [0, 0])
  await move(page, [20, 0])
  await page.keyboard.type('60')
  await page.keyboard.press('Enter')
  await expect(card(page)).toContainText('1 dimension')
  await way(page, 'Shapes', 'Lettering')
  await card(page).getByLabel('Words', { exact: true }).fill('HI')
  await card(page).getByLabel('Words', { exact: true }).press('Tab')
  await click(page, [0, 30])
  await expect(card(page)).toContainText('1 piece of lettering')
  // H and I stand outside on the circle: two areas beside its own.
  await expect(card(page)).toContainText('3 areas')
  await card(page).getByLabel('Words', { exact: true }).fill('O')
  await card(page).getByLabel('Words', { exact: true }).press('Tab')
  await click(page, [0, -6])
  await expect(card(page)).toContainText('5 areas')
  await apply(page)
  await settled(page)
  await pickBody(page, 'outline')
  await expect(page.getByTestId('readout')).toContainText(/Closed loops\s*5/)
})

test('a plane in a face goes half a millimetre into the body by one click; a face is drawn on, curves are mirrored, copied and offset', async ({
  page,
}) => {
  await newJob(page)
  await bringIn(page, 'bracket', await bracketShape())
  await tool(page, 'Convert', 'Section line')
  await card(page).getByLabel('Plane through z').fill('6')
  await card(page).getByLabel('Plane through z').blur()
  await card(page).getByRole('button', { name: 'Half a millimetre into the body' }).click()
  // Down into the plate, though most of the bracket stands above.
  await expect(card(page).getByLabel('Plane through z')).toHaveValue('5.5')
  await expect(card(page)).not.toContainText('lies in a face')
  await card(page).getByRole('button', { name: 'Cancel' }).click()
  await tool(page, 'Convert', 'Silhouette')
  await expect.poll(() => figure(page, 'ghost-figures', 'Covered area')).toContain('2235')
  await card(page).getByRole('button', { name: 'Cancel' }).click()
  await tool(page, 'Build', 'Outline')
  await way(page, 'Draw', 'On a face')
  await page.getByRole('button', { name: 'Corner', exact: true }).click()
  await click(page, [20, -6], 6)
  await expect(page.getByRole('button', { name: 'Line', exact: true })).toHaveAttribute('aria-pressed', 'true')
  // On the plate's face, looking square at it: a bore and a line to mirror it in.
  await way(page, 'Draw', 'Circle')
  await click(page, [20, 5], 6)
  await move(page, [22, 5], 6)
  await page.keyboard.type('4')
  await page.keyboard.press('Enter')
  await expect(curves(page)).toHaveCount(1)
  await way(page, 'Draw', 'Line')
  await click(page, [15, -18], 6)
  await click(page, [15, 18], 6)
  await page.keyboard.press('Escape')
  await expect(curves(page)).toHaveCount(2)
  await way(page, 'Change', 'Construction')
  await click(page, [15, -12], 6)
  await way(page, 'Draw', 'Pick')
  await click(page, [22, 5], 6)
  await way(page, 'Copy', 'Mirror')
  await click(page, [15, -12], 6)
  await expect(curves(page)).toHaveCount(3)
  await expect(card(page)).toContainText('2 areas')
  // What was mirrored is picked still.
  await way(page, 'Copy', 'In rows')
  await card(page).getByLabel('Along').fill('270')
  await card(page).getByLabel('Along').blur()
  await card(page).getByRole('button', { name: 'Copy in rows' }).click()
  await expect(card(page)).toContainText('4 areas')
  await way(page, 'Change', 'Offset')
  await card(page).getByLabel('Distance').fill('1')
  await card(page).getByLabel('Distance').blur()
  await click(page, [22, 5], 6)
  await click(page, [8, 5], 6)
  await click(page, [4, 5], 6)
  await expect(card(page)).toContainText('5 areas')
  // It is put away only when that is meant.
  await card(page).getByRole('button', { name: 'Cancel' }).click()
  await expect(page.getByRole('dialog')).toContainText('Put the drawing away?')
  await page.keyboard.press('Escape')
  await expect(curves(page)).toHaveCount(6)
  await apply(page)
  await settled(page)
  await pickBody(page, 'outline')
  await expect(page.getByTestId('readout')).toContainText(/Closed loops\s*5/)
})
