/** What all browser tests share: finding a job, clicking at a place of the model, waiting for the bench. */
import { expect, type Page } from './kept-browser'
import { readdirSync, readFileSync } from 'node:fs'
import { writeStlBinary } from '@/core/formats/stl'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { emptyRecipe, type Recipe } from '@/core/recipe/recipe'

/** A copy of a demo job for this test alone. */
export async function openCopy(page: Page, title: string): Promise<void> {
  const { request } = page
  const jobs = (await (await request.get('/api/jobs')).json()) as { id: string; title: string; demo: boolean }[]
  const demo = jobs.find((j) => j.demo && j.title === title)!
  // Its results come along once they are made.
  await expect
    .poll(
      async () =>
        ((await (await request.get(`/api/jobs/${demo.id}`)).json()) as { run: { state: string } | null }).run?.state,
      { timeout: 180_000 },
    )
    .toBe('done')
  const made = await request.post('/api/jobs', { data: { copyOf: demo.id } })
  await page.goto(`/jobs/${((await made.json()) as { id: string }).id}`)
  await settled(page)
}

/** An empty job for this test alone; gives its id. */
export async function newJob(page: Page): Promise<string> {
  const made = await page.request.post('/api/jobs', { data: { title: 'New job' } })
  const { id } = (await made.json()) as { id: string }
  await page.goto(`/jobs/${id}`)
  await expect(page.getByRole('heading', { name: 'Recipe' })).toBeVisible()
  return id
}

/** A job of steps for this test alone, all of them done. */
export async function openRecipe(
  page: Page,
  steps: Recipe['steps'],
  files: Readonly<Record<string, TriMesh>> = {},
): Promise<void> {
  const { request } = page
  const made = await request.post('/api/jobs', { data: { title: 'New job' } })
  const { id, revision } = (await made.json()) as { id: string; revision: string }
  for (const [name, mesh] of Object.entries(files))
    await request.post(`/api/jobs/${id}/files?name=${name}`, { data: Buffer.from(writeStlBinary(mesh)) })
  const recipe: Recipe = { ...emptyRecipe('New job'), steps }
  const answer = await request.post(`/api/jobs/${id}/revisions`, { data: { base: revision, label: 'begun', recipe } })
  expect(await answer.text()).toContain(id)
  const run = async () =>
    ((await (await request.get(`/api/jobs/${id}`)).json()) as { run: { state: string } | null }).run?.state
  await expect.poll(run).toBe('done')
  await page.goto(`/jobs/${id}`)
  await settled(page)
}

/** Nothing is being computed and what is on the bench is drawn. */
export async function settled(page: Page): Promise<void> {
  await expect(page.locator('main.bench')).toHaveAttribute('data-ready', 'yes', { timeout: 120_000 })
}

/** A real click at a point of the model, as the view stands. */
export async function clickAt(page: Page, point: [number, number, number]): Promise<void> {
  const [x, y] = await page.evaluate(
    (p) => (window as unknown as { glueBenchScreenPoint(p: number[]): [number, number] }).glueBenchScreenPoint(p),
    point,
  )
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.up()
}

/** Chooses a group of the tray, after going to a stage when one is named. */
export async function group(page: Page, name: string, stage?: string): Promise<void> {
  if (stage) await page.getByRole('list', { name: 'Stages' }).getByRole('button', { name: stage }).click()
  await page.getByRole('group', { name: 'Groups of tools' }).getByRole('button', { name, exact: true }).click()
}

/** Takes a tool of a stage; where its group is not shown, the groups are looked through. */
export async function tool(page: Page, stage: string, title: string): Promise<void> {
  await page.getByRole('list', { name: 'Stages' }).getByRole('button', { name: stage }).click()
  await expect(page.getByRole('toolbar').getByRole('button').first()).toBeVisible()
  const groups = page.getByRole('group', { name: 'Groups of tools' }).getByRole('button')
  for (let i = 0; i < (await groups.count()); i++) {
    if (await page.getByRole('toolbar').getByRole('button', { name: title, exact: true }).count()) break
    await groups.nth(i).click()
  }
  await page.getByRole('toolbar').getByRole('button', { name: title, exact: true }).click()
}

export async function apply(page: Page): Promise<void> {
  await expect(page.getByTestId('apply')).toBeEnabled({ timeout: 120_000 })
  await page.getByTestId('apply').click()
  await expect(page.getByTestId('tool-card')).toHaveCount(0)
  await expect(page.getByTestId('run-state')).toHaveText('ready', { timeout: 120_000 })
}

/** A figure of the ghost or the readout, by its label. */
export async function figure(page: Page, place: 'ghost-figures' | 'readout', label: string): Promise<string> {
  const term = page.getByTestId(place).locator('dt', { hasText: new RegExp(`^${label}`) })
  await expect(term).toBeVisible({ timeout: 120_000 })
  return (await term.locator('xpath=following-sibling::dd[1]').innerText()).replace(/\u202f/g, '')
}

/** The same as a number, whatever its unit. */
export const figureNumber = async (page: Page, label: string): Promise<number> =>
  Number((await figure(page, 'ghost-figures', label)).replace(/[^0-9.\u2212-]/g, '').replace('\u2212', '-'))

/** Where a place of the model stands on the screen, as the view is. */
export const screenAt = (page: Page, p: readonly [number, number, number]) =>
  page.evaluate(
    (q) => (window as unknown as { glueBenchScreenPoint: (p: number[]) => [number, number] }).glueBenchScreenPoint(q),
    [...p],
  )

/** A hover, then a click there: what is hovered is what is clicked. */
export async function touchAt(page: Page, p: readonly [number, number, number]): Promise<void> {
  const [u, v] = await screenAt(page, p)
  await page.mouse.move(u + 2, v + 2)
  await page.mouse.move(u, v)
  await page.mouse.click(u, v)
}

/** Takes a way of drawing from a group of the drawing's tray. */
export async function way(page: Page, group: string, word: string): Promise<void> {
  await page.getByRole('group', { name: 'Groups of tools' }).getByRole('button', { name: group, exact: true }).click()
  await page
    .getByRole('toolbar', { name: 'Tools of the drawing' })
    .getByRole('button', { name: word, exact: true })
    .click()
}

export async function fill(page: Page, label: string, value: string): Promise<void> {
  const field = page.getByTestId('tool-card').getByLabel(label, { exact: true })
  await field.fill(value)
  await field.blur()
}

/** A closed cube as ASCII STL, with its edge in file units; `open` leaves two triangles out. */
export function cubeStl(edge: number, open = false): Buffer {
  const v = [
    [0, 0, 0],
    [1, 0, 0],
    [1, 1, 0],
    [0, 1, 0],
    [0, 0, 1],
    [1, 0, 1],
    [1, 1, 1],
    [0, 1, 1],
  ].map((p) => p.map((c) => c * edge))
  const faces = [
    [0, 3, 2],
    [0, 2, 1],
    [4, 5, 6],
    [4, 6, 7],
    [0, 1, 5],
    [0, 5, 4],
    [2, 3, 7],
    [2, 7, 6],
    [1, 2, 6],
    [1, 6, 5],
    [0, 4, 7],
    [0, 7, 3],
  ].slice(open ? 2 : 0)
  return Buffer.from(
    `solid cube\n${faces.map((f) => `facet normal 0 0 0\nouter loop\n${f.map((i) => `vertex ${v[i].join(' ')}`).join('\n')}\nendloop\nendfacet`).join('\n')}\nendsolid cube\n`,
  )
}

/** Brings a mesh made by the project's own shapes in as a file, through the file card. */
export async function bringIn(page: Page, name: string, mesh: TriMesh): Promise<void> {
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: `${name}.stl`, mimeType: 'model/stl', buffer: Buffer.from(writeStlBinary(mesh)) })
  await apply(page)
  await settled(page)
  await expect(page.getByTestId(`body-${name}`)).toBeVisible()
}

export const card = (page: Page) => page.getByTestId('tool-card')

/** Chooses a body in the list, so that tools and the readout are about it. */
export const pickBody = (page: Page, name: string) =>
  page.getByTestId(`body-${name}`).getByRole('button', { name, exact: true }).click()

/** Names of the bodies in the list, in its order. */
export const bodyNames = (page: Page): Promise<string[]> =>
  page.locator('.body-row').evaluateAll((rows) => rows.map((row) => row.getAttribute('data-testid')!.slice(5)))

/** Volume of the chosen body by the readout, mm³. */
export const volume = async (page: Page): Promise<number> => {
  const [value, unit] = (await figure(page, 'readout', 'Volume')).split(' ')
  return Number(value) * (unit === 'cm³' ? 1000 : 1)
}

/** The three sizes of the chosen body by the readout, mm. */
export const size = async (page: Page): Promise<number[]> =>
  (await figure(page, 'readout', 'Size')).replace(' mm', '').split(' × ').map(Number)

/** Looks at the bench from a named side. */
export async function view(page: Page, name: string): Promise<void> {
  await page.getByRole('group', { name: 'View' }).getByRole('button', { name, exact: true }).click()
  await settled(page)
}

/** Where a point of the model stands on the screen. */
export const screenPoint = (page: Page, p: [number, number, number]) =>
  page.evaluate(
    (q) => (window as unknown as { glueBenchScreenPoint(p: number[]): [number, number] }).glueBenchScreenPoint(q),
    p,
  )

/** Presses at the first of some points of the model, drags through the others, and lets go. */
export async function dragAlong(page: Page, points: readonly [number, number, number][]): Promise<void> {
  const [first, ...rest] = await Promise.all(points.map((p) => screenPoint(page, p)))
  await page.mouse.move(...first)
  await page.mouse.down()
  for (const p of rest) await page.mouse.move(...p, { steps: 4 })
  await page.mouse.up()
}

/** Picks by a kind of fault or by size, from the pick bar. */
export async function pickByKind(page: Page, kind: string): Promise<void> {
  const bar = page.getByRole('group', { name: 'Picking' })
  await bar.getByRole('button', { name: 'By kind' }).click()
  await bar.getByRole('button', { name: kind }).click()
}

/** Process ids of a part of the bench under test, the database's first process only. */
export function partPids(part: 'web' | 'compute' | 'postgres'): number[] {
  const data = process.env.GLUE_BENCH_DATA_FOLDER!
  const { database } = JSON.parse(readFileSync(`${data}/running.json`, 'utf8')) as { database: string }
  return readdirSync('/proc').flatMap((p) => {
    if (!/^\d+$/.test(p)) return []
    try {
      const line = readFileSync(`/proc/${p}/cmdline`, 'utf8')
      if (part === 'postgres') return line.includes(`${data}/postgres`) ? [Number(p)] : []
      const ours = line.includes(`.build/${part}.mjs`) && readFileSync(`/proc/${p}/environ`, 'utf8').includes(database)
      return ours ? [Number(p)] : []
    } catch {
      return [] // it ended meanwhile
    }
  })
}

/** Hides a body: one that has stepped back behind what was made of it is shown first. */
export async function hideBody(page: Page, name: string): Promise<void> {
  const row = page.getByTestId(`body-${name}`)
  const shown = row.getByRole('button', { name: `Show ${name}`, exact: true })
  if (await shown.isVisible()) await shown.click()
  await row.getByRole('button', { name: `Hide ${name}`, exact: true }).click()
}
