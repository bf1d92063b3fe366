/** Traps of the WebAssembly kernels. After one, nothing the instance does is to be trusted: it is given up, and its thread or process with it. */
let spoilt = false

/** Whether a kernel of this thread trapped since it began. */
export const isSpoilt = (): boolean => spoilt

/** Notes that an instance was given up. */
export function spoil(): void {
  spoilt = true
}

/**
 * Whether an error means that an instance cannot go on: a trap, an abort, or an allocation that failed (`std::bad_alloc` reaches us as an
 * exception of C++ or as a number).
 */
export const isTrap = (error: unknown): boolean =>
  error instanceof WebAssembly.RuntimeError ||
  error instanceof RangeError ||
  typeof error === 'number' ||
  (error instanceof Error &&
    /Aborted\(|out of memory|bad_alloc|memory access|table index|unreachable/i.test(error.message))
