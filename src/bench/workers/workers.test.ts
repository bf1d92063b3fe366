import { afterEach, describe, expect, it, jest } from '@jest/globals'
import { encodeBody } from '@/core/kinds/registry'
import { meshBody } from '@/core/bodies/body'
import { box } from '@/testing/shapes'
import { fetchBody } from './fetch-body'
import { hereMark, sturdyWorker } from './sturdy-worker'

class Fake extends EventTarget {
  sent: unknown[] = []
  ended = false
  postMessage(m: unknown) {
    this.sent.push(m)
  }
  terminate() {
    this.ended = true
  }
  say(data: unknown) {
    this.dispatchEvent(Object.assign(new Event('message'), { data }))
  }
}

describe('a sturdy worker', () => {
  afterEach(() => void jest.useRealTimers())
  it('is made again until its script loads, and is then asked what waited', () => {
    jest.useFakeTimers()
    const made: Fake[] = []
    const w = sturdyWorker(() => {
      const f = new Fake()
      made.push(f)
      return f as unknown as Worker
    })
    const heard: unknown[] = []
    w.addEventListener('message', (e) => heard.push((e as MessageEvent).data))
    w.postMessage('one')
    for (let i = 0; i < 3; i++) {
      made.at(-1)!.dispatchEvent(new Event('error'))
      jest.advanceTimersByTime(1000)
    }
    expect([made.length, made.filter((f) => f.ended).length, made.flatMap((f) => f.sent)]).toEqual([4, 3, []])
    made[3].say(hereMark)
    w.postMessage('two')
    made[3].say('answer')
    expect([made[3].sent, heard]).toEqual([
      ['one', 'two'],
      [hereMark, 'answer'],
    ])
    // An error of its own later does not throw away what it holds.
    made[3].dispatchEvent(new Event('error'))
    jest.advanceTimersByTime(5000)
    expect(made.length).toBe(4)
  })
})

describe('a body from the server', () => {
  const real = globalThis.fetch
  afterEach(() => {
    globalThis.fetch = real
  })
  const bytes = encodeBody(meshBody(box(1, 2, 3)))
  it('is asked for again while the server or its database is away, and refused at once when there is none', async () => {
    const answers = [
      () => Promise.reject(new TypeError('failed')),
      () => Promise.resolve(new Response(null, { status: 503 })),
      () => Promise.resolve(new Response(Buffer.from(bytes))),
      () => Promise.resolve(new Response(null, { status: 404 })),
    ]
    globalThis.fetch = (() => answers.shift()!()) as typeof fetch
    expect((await fetchBody('a'.repeat(64))).kind).toBe('mesh')
    await expect(fetchBody('b'.repeat(64))).rejects.toThrow(/could not be loaded \(404\)/)
  })
})
