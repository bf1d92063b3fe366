/** The whole job through the real interface: a dirty scan and a downloaded bracket become a printable file; the same recipe headless gives equal bodies. */
import { expect, test } from './kept-browser'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { apply, clickAt, figure, fill, openCopy, settled, tool } from './bench'

test(
  'scan and download in, mended, hole resized, pin cut, block joined, file out; equal bodies headless',
  { tag: '@long' },
  async ({ page, request }) => {
    // Long by itself, and longer on a busy machine.
    test.setTimeout(480_000)
    await openCopy(page, 'Try it: raw scan and download')
    const id = page.url().split('/').at(-1)!

    // Looking at it: the check-up counts faults and jumps to them.
    await page.getByTestId('body-grip').getByRole('button', { name: 'grip', exact: true }).click()
    await tool(page, 'Mend', 'Check-up')
    await expect(page.getByTestId('check-up').locator('dt', { hasText: /^holes$/ })).toBeVisible({ timeout: 120_000 })
    await expect(page.getByTestId('check-up').locator('dt', { hasText: 'self-crossings' })).toBeVisible()
    await page.getByRole('button', { name: 'Next fault' }).click()
    await expect(page.locator('.chip.fault')).toContainText('open rim')
    await page.getByRole('button', { name: 'Cancel' }).click()

    // Set down and mend.
    await tool(page, 'Set down', 'Turn')
    await page.getByTestId('tool-card').getByLabel('Axis').selectOption('y')
    await fill(page, 'Angle', '-180/2')
    await apply(page)
    await tool(page, 'Mend', 'Mend all')
    await apply(page)
    await settled(page)
    await expect(page.getByTestId('body-grip')).toContainText('mesh · closed')
    // The check-up panel looked at the mended body again: nothing is left.
    await expect(page.getByTestId('check-up')).toContainText('Closed, outward, manifold', { timeout: 120_000 })
    await page.getByRole('button', { name: 'Close the check-up' }).click()
    await tool(page, 'Set down', 'Rest on floor')
    await apply(page)

    // The wrong hole: a click in its mouth, a diameter, all four at once.
    await page.getByRole('group', { name: 'View' }).getByRole('button', { name: 'Top' }).click()
    await settled(page)
    await tool(page, 'Build', 'Edit hole')
    await clickAt(page, [-33 + 2, -93, 6])
    await expect(page.getByTestId('hole-slot')).toContainText('gate-bracket')
    await fill(page, 'Diameter', '3.4')
    await expect(page.getByTestId('hole-slot')).toContainText('Ø 5.08 through', { timeout: 120_000 })
    await page.getByTestId('tool-card').getByLabel('All equal holes').check()
    await expect(page.getByTestId('ghost-figures')).toContainText('Holes changed')
    // Four bores 6 mm deep from Ø 5.08 (96 sides) to Ø 3.4 (44 sides): regular polygon areas, n/2 r² sin(2π/n).
    const area = (n: number, d: number) => (n / 2) * (d / 2) ** 2 * Math.sin((2 * Math.PI) / n)
    const expected = 4 * 6 * (area(96, 5.08) - area(44, 3.4))
    await expect
      .poll(async () => Number(/[\d.]+/.exec(await figure(page, 'ghost-figures', 'Volume'))![0]))
      .toBeCloseTo(expected, 0)
    await apply(page)

    // An exact pin cut from the grip, an exact key joined to the bracket.
    await tool(page, 'Build', 'Cylinder')
    await fill(page, 'Name', 'pin')
    await fill(page, 'Radius', '4')
    await fill(page, 'Height', '80')
    await fill(page, 'Middle of the base x', '-20')
    await fill(page, 'Middle of the base y', '-8')
    await fill(page, 'Middle of the base z', '-10')
    await apply(page)
    await expect(page.getByTestId('body-pin')).toContainText('solid · closed')
    await tool(page, 'Build', 'Difference')
    await page.getByTestId('tool-card').getByLabel('Cut from').selectOption('grip')
    await page.getByTestId('tool-card').getByLabel('pin').check()
    await apply(page)
    await expect(page.getByTestId('body-pin')).toHaveCount(0)
    await tool(page, 'Build', 'Block')
    await fill(page, 'Name', 'key')
    await fill(page, 'Size x', '1/4 in')
    await fill(page, 'At x', '10')
    await fill(page, 'At y', '-80')
    await fill(page, 'At z', '3')
    await apply(page)
    await tool(page, 'Build', 'Union')
    for (const name of ['gate-bracket', 'key']) await page.getByTestId('tool-card').getByLabel(name).check()
    await apply(page)

    // Out it goes.
    await tool(page, 'Send out', 'Send out file')
    await fill(page, 'File name', 'whole-job.3mf')
    await apply(page)
    const download = page.waitForEvent('download')
    await page.getByRole('link', { name: 'Save whole-job.3mf' }).click()
    const bytes = readFileSync((await (await download).path())!)
    expect(bytes.subarray(0, 2).toString()).toBe('PK')

    // The same recipe without screen or database gives the same bodies and the same file, byte for byte.
    const state = (await (await request.get(`/api/jobs/${id}`)).json()) as {
      files: { name: string; hash: string }[]
      run: { steps: { bodies: Record<string, string | null> }[] }
    }
    const bodies = new Map<string, string>()
    for (const s of state.run.steps)
      for (const [n, h] of Object.entries(s.bodies))
        if (h) bodies.set(n, h)
        else bodies.delete(n)
    const dir = mkdtempSync(path.join(tmpdir(), 'glue-bench-e2e-'))
    try {
      writeFileSync(path.join(dir, 'r.json'), await (await request.get(`/api/jobs/${id}/recipe`)).body())
      for (const f of state.files)
        writeFileSync(path.join(dir, f.name), await (await request.get(`/api/blobs/${f.hash}`)).body())
      const report = JSON.parse(
        execFileSync('./glue-bench', ['run', path.join(dir, 'r.json'), '--out', dir], {
          encoding: 'utf8',
          maxBuffer: 1 << 26,
        }),
      ) as { ok: boolean; bodies: { name: string; hash: string; facts: { closed: boolean; selfCrossings: number } }[] }
      expect(report.ok).toBe(true)
      expect(Object.fromEntries(report.bodies.map((b) => [b.name, b.hash]))).toEqual(Object.fromEntries(bodies))
      for (const b of report.bodies)
        expect(b.facts).toMatchObject({ closed: true, selfCrossings: 0, openEdges: 0, nonManifoldEdges: 0, folded: 0 })
      expect(readFileSync(path.join(dir, 'whole-job.3mf')).equals(bytes)).toBe(true)
    } finally {
      rmSync(dir, { recursive: true, force: true })
    }
  },
)
