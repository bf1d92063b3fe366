/** Stands for `@jest/globals`: what the runner puts on the global object, with a bound on how long a test may wait. */

/** Longest time of a test that says none, ms. */
const patience = 120_000

/** Fails when `fn` waits for longer than `ms`. */
const bounded =
  (fn, ms = patience) =>
  async (...args) => {
    let timer
    const late = new Promise((_, reject) => {
      timer = setTimeout(() => reject(new Error(`took longer than ${ms / 1000} s`)), ms)
    })
    try {
      return await Promise.race([fn(...args), late])
    } finally {
      clearTimeout(timer)
    }
  }

const named = (put) => (name, fn, ms) => put(name, fn && bounded(fn, ms))
const hook = (put) => (fn, ms) => put(bounded(fn, ms))
const each =
  (put) =>
  (table, ...rest) =>
    named(put.each(table, ...rest))

const tests = (put) =>
  Object.assign(named(put), {
    each: each(put),
    skip: Object.assign(put.skip, { each: put.skip.each }),
    only: Object.assign(named(put.only), { each: each(put.only) }),
  })

export const { describe, expect, jest } = globalThis
export const it = tests(globalThis.it)
export const test = it
export const beforeAll = hook(globalThis.beforeAll)
export const beforeEach = hook(globalThis.beforeEach)
export const afterAll = hook(globalThis.afterAll)
export const afterEach = hook(globalThis.afterEach)
