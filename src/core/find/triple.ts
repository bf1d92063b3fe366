import { z } from 'zod'

/** A place or direction in model space, as settings and picks write it. */
export const triple = z.tuple([z.number().finite(), z.number().finite(), z.number().finite()])

/** The same, never written to. */
export const fixedTriple = triple.readonly()
