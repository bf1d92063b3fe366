/**
 * A scope for kernel calls: every wasm object that is made or handed out inside it is disposed of when it ends, however it ends. What is
 * to outlive it is kept on purpose. A failure of the kernel becomes a sentence.
 */
import { StepError } from '@/core/base/step-error'
import { isTrap } from '../trap'
import { discardKernel, exactKernel, type Kernel } from './kernel'

interface Handle {
  delete(): void
  isDeleted(): boolean
}

const isHandle = (v: unknown): v is Handle =>
  typeof v === 'object' &&
  v !== null &&
  typeof (v as Partial<Handle>).delete === 'function' &&
  typeof (v as Partial<Handle>).isDeleted === 'function'

/** Handles of the scopes that are open, the innermost last. */
const open: Set<Handle>[] = []
let live = 0

/** Wasm objects that the adapter holds at this moment; outside of any scope those are the cached shapes. */
export const liveHandles = (): number => live

const plain = new Set(['constructor', 'delete', 'isDeleted', 'deleteLater', 'clone', 'isAliasOf'])
const tracked = new WeakSet<object>()

/** Makes the methods of a class note the handles they give out. */
function trackPrototype(start: object): void {
  for (let p: object | null = start; p && p !== Object.prototype && !tracked.has(p); p = Object.getPrototypeOf(p)) {
    tracked.add(p)
    for (const [name, d] of Object.entries(Object.getOwnPropertyDescriptors(p))) {
      if (plain.has(name) || typeof d.value !== 'function' || !d.writable) continue
      const method = d.value as (...args: unknown[]) => unknown
      const noting = function (this: unknown, ...args: unknown[]) {
        return track(method.apply(this, args))
      }
      // Overloaded methods look up their table on the function that stands on the prototype.
      Object.defineProperty(p, name, { ...d, value: Object.assign(noting, method) })
    }
  }
}

function track<T>(value: T): T {
  if (!isHandle(value)) return value
  trackPrototype(Object.getPrototypeOf(value) as object)
  const scope = open.at(-1)
  if (scope && !scope.has(value)) {
    scope.add(value)
    live++
  }
  return value
}

/** The kernel with constructors and static functions that note what they make. */
function tracking(oc: Kernel): Kernel {
  const classes = new Map<PropertyKey, unknown>()
  return new Proxy(oc, {
    get(target, key) {
      const value = Reflect.get(target, key) as unknown
      if (typeof value !== 'function' || !('prototype' in value)) return value
      let wrapped = classes.get(key)
      if (!wrapped) {
        wrapped = new Proxy(value, {
          construct: (t, args) => track(Reflect.construct(t, args) as object),
          get(t, name) {
            const member = Reflect.get(t, name) as unknown
            return typeof member === 'function' && name !== 'prototype'
              ? (...args: unknown[]) => track((member as (...a: unknown[]) => unknown).apply(t, args))
              : member
          },
        })
        classes.set(key, wrapped)
      }
      return wrapped
    },
  })
}

const trackers = new WeakMap<Kernel, Kernel>()

/** Keeps a handle beyond the scope it was made in. The caller deletes it by `release`. */
export function keep<T extends { delete(): void }>(handle: T): T {
  open.at(-1)?.delete(handle as T & Handle)
  return handle
}

/** Deletes a handle that was kept. */
export function release(handle: { delete(): void }): void {
  if ((handle as Handle).isDeleted()) return
  handle.delete()
  live--
}

function close(scope: Set<Handle>): void {
  open.splice(open.indexOf(scope), 1)
  // The last made first: what was made of others goes before them.
  for (const h of [...scope].reverse()) {
    live--
    try {
      if (!h.isDeleted()) h.delete()
    } catch {
      // A kernel that trapped cannot take anything back; it is discarded whole.
    }
  }
}

/** Says what went wrong in the kernel. */
function explain(oc: Kernel, what: string, error: unknown): StepError {
  if (error instanceof StepError) return error
  const full = () => {
    discardKernel()
    return new StepError('out-of-memory', `${what} needs more memory than the exact kernel has.`, {
      tryThis: 'Work with fewer faces, or as a mesh.',
    })
  }
  if (isTrap(error)) return full()
  let reason = 'unknown reason'
  try {
    reason = oc.getExceptionMessage(error as never)[0].replace(/^Standard_|^StdFail_/, '')
  } catch {
    if (error instanceof Error) reason = error.message
  }
  if (/OutOfMemory/.test(reason)) return full()
  return new StepError('kernel', `${what} failed in the exact kernel (${reason}).`, {
    tryThis: 'Change a size or the place a little and try again.',
  })
}

/**
 * Runs kernel work; `what` begins the sentence of a failure. The work must be synchronous and give plain data or kept handles.
 * Throws StepError `kernel`, `out-of-memory` or what the work throws itself.
 */
export async function withKernel<T>(what: string, work: (oc: Kernel) => T): Promise<T> {
  const oc = await exactKernel()
  let proxy = trackers.get(oc)
  if (!proxy) {
    proxy = tracking(oc)
    trackers.set(oc, proxy)
  }
  const scope = new Set<Handle>()
  open.push(scope)
  try {
    return work(proxy)
  } catch (error) {
    throw explain(oc, what, error)
  } finally {
    close(scope)
  }
}
