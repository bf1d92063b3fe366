/**
 * Tests of a worker share one browsing context, so that the bench's scripts are fetched and compiled once; each has a page and a job of its
 * own, and leaves nothing behind that the next could read.
 */
import { test as base, type BrowserContext } from '@playwright/test'

export { expect, type Page } from '@playwright/test'

export const test = base.extend<object, { shared: BrowserContext }>({
  shared: [
    async ({ browser }, use, worker) => {
      const { baseURL, viewport, deviceScaleFactor } = worker.project.use
      const context = await browser.newContext({ baseURL, viewport, deviceScaleFactor })
      await use(context)
      await context.close()
    },
    { scope: 'worker' },
  ],
  page: async ({ shared }, use, about) => {
    const page = await shared.newPage()
    page.setDefaultTimeout(about.project.use.actionTimeout ?? 60_000)
    await use(page)
    if (about.status !== about.expectedStatus) await page.screenshot({ path: about.outputPath('failed.png') })
    await page.evaluate(() => localStorage.clear()).catch(() => {})
    await page.close()
  },
})
