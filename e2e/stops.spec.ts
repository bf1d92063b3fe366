/** What is seen on the bench when its parts are stopped and killed: one test after the other, on a bench of their own. */
import { expect, test } from './kept-browser'
import { fill, newJob, partPids, settled, tool } from './bench'

test('long work shows progress and can be stopped; a killed compute process loses nothing', async ({ page }) => {
  // The process that takes the place of a killed one frees what it held; then the whole scan is made again.
  test.setTimeout(420_000)
  await newJob(page)
  await tool(page, 'Bring in', 'Practice scanner')
  await page.getByTestId('tool-card').getByLabel('Part').selectOption('heel-button')
  await page.getByTestId('tool-card').getByRole('button', { name: 'More' }).click()
  await fill(page, 'Detail', '0.2')
  await fill(page, 'Stations', '40')
  await page.getByTestId('apply').click()
  await expect(page.locator('.run-box')).toContainText('station', { timeout: 120_000 })
  await page.getByRole('button', { name: 'Stop' }).click()
  await expect(page.locator('.run-box')).toContainText('Nothing applied is lost')
  await page.getByRole('button', { name: 'Run again' }).click()
  await expect(page.locator('.run-box')).toContainText('station', { timeout: 120_000 })
  for (const pid of partPids('compute')) process.kill(pid, 'SIGKILL')
  await expect(page.getByTestId('run-state')).toHaveText('ready', { timeout: 240_000 })
  await expect(page.getByTestId('body-scan')).toContainText('mesh')
})

test('the page says what is away, and heals without a reload', async ({ page }) => {
  test.setTimeout(180_000)
  await newJob(page)
  await page.evaluate(() => Object.assign(window, { stillThisPage: true }))
  const strip = page.locator('.away')
  const heals = async () => {
    await expect(strip).toContainText('nothing applied is lost')
    await expect(page.getByTestId('run-state')).toContainText('away')
    await expect(strip).toBeHidden({ timeout: 120_000 })
  }
  for (const part of ['web', 'postgres'] as const) {
    // A part that comes back within a second may not be missed by anybody: it is killed until it is said.
    await expect(async () => {
      for (const pid of partPids(part)) process.kill(pid, 'SIGKILL')
      await expect(strip).toBeVisible({ timeout: 1500 })
    }).toPass({ timeout: 120_000, intervals: [100] })
    await heals()
  }
  // Compute processes that hang are missed as well.
  const hung = partPids('compute')
  for (const pid of hung) process.kill(pid, 'SIGSTOP')
  await expect(strip).toContainText('Nothing is computed', { timeout: 40_000 })
  for (const pid of hung) process.kill(pid, 'SIGCONT')
  await heals()
  await tool(page, 'Build', 'Block')
  await page.getByTestId('apply').click()
  await settled(page)
  await expect(page.getByTestId('body-block')).toContainText('solid')
  expect(await page.evaluate(() => 'stillThisPage' in window)).toBe(true)
})
