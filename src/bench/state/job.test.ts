import { expect, test } from '@jest/globals'
import { QueryClient, QueryObserver } from '@tanstack/react-query'
import type { JobState } from '@/core/recipe/job-state'
import { jobKey, putAnswer, renew } from './job'

const stateOf = (label: string): JobState => ({
  ...{ id: 'j', title: 'A job', revision: 'r', label, undo: null, redo: null, run: null, files: [], summaries: {} },
  recipe: { format: 'glue-bench/recipe', version: 1, title: 'A job', steps: [] },
})

/** A bench that watches a job; each question is answered, as the test says when, with what was true when it was asked. */
function watched() {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  let truth = 'running'
  const answers: (() => void)[] = []
  const observer = new QueryObserver(client, {
    queryKey: jobKey('j'),
    queryFn: () => {
      const state = stateOf(truth)
      return new Promise<JobState>((done) => answers.push(() => done(state)))
    },
  })
  const leave = observer.subscribe(() => {})
  return {
    client,
    asked: () => answers.length,
    becomes: (label: string) => (truth = label),
    answer: async (i: number) => {
      answers[i]()
      await new Promise((r) => setTimeout(r, 10))
    },
    seen: () => client.getQueryData<JobState>(jobKey('j'))?.label,
    end: () => (leave(), client.clear()),
  }
}

test('an event that comes while the first question is under way is not answered by what was true before it', async () => {
  const page = watched()
  expect(page.asked()).toBe(1)
  page.becomes('done')
  void renew(page.client, jobKey('j'))
  await page.answer(0)
  expect([page.asked(), page.seen()]).toEqual([2, undefined])
  await page.answer(1)
  expect(page.seen()).toBe('done')
  page.end()
})

test('an answer to a change stands when nothing was heard since it was asked, and is asked again otherwise', async () => {
  const page = watched()
  await page.answer(0)
  putAnswer(page.client, stateOf('changed'), 0)
  expect([page.seen(), page.asked()]).toEqual(['changed', 1])
  page.becomes('done')
  putAnswer(page.client, stateOf('changed'), -1)
  expect(page.asked()).toBe(2)
  await page.answer(1)
  expect(page.seen()).toBe('done')
  page.end()
})
