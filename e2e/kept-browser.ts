/**
 * Tests of a worker share one page, so that the bench's scripts are fetched, compiled and warmed up once; each goes to a job of its own, and
 * leaves nothing behind that the next could read. After a failure the next begins with a new page.
 */
import { test as base, type BrowserContext, type Page } from '@playwright/test'

export { expect, type Page } from '@playwright/test'

interface Kept {
  readonly context: BrowserContext
  page: Page | null
}

export const test = base.extend<object, { kept: Kept }>({
  kept: [
    async ({ browser }, use, worker) => {
      const { baseURL, viewport, deviceScaleFactor } = worker.project.use
      const kept: Kept = { context: await browser.newContext({ baseURL, viewport, deviceScaleFactor }), page: null }
      await use(kept)
      await kept.context.close()
    },
    { scope: 'worker' },
  ],
  page: async ({ kept }, use, about) => {
    const page = (kept.page ??= await kept.context.newPage())
    page.setDefaultTimeout(about.project.use.actionTimeout ?? 120_000)
    await use(page)
    const failed = about.status !== about.expectedStatus
    if (failed) await page.screenshot({ path: about.outputPath('failed.png') })
    await page.evaluate(() => localStorage.clear()).catch(() => {})
    await page.unrouteAll({ behavior: 'ignoreErrors' })
    for (const other of kept.context.pages()) if (failed || other !== page) await other.close()
    if (failed) kept.page = null
  },
})
