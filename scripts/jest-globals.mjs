/** What tests import from `@jest/globals`, for a runner without a sandbox, which gives them as globals. */
export const { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, jest, test } = globalThis
