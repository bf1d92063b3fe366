/** What a piece of lettering is told by. */
import { z } from 'zod'

export const letteringFonts = { text: 'Text', heading: 'Heading', figures: 'Figures' } as const
export type LetteringFont = keyof typeof letteringFonts

export const letteringSchema = z
  .object({
    text: z.string().min(1).max(500),
    /** The point it begins at, or is centred on. */
    at: z.int().min(0),
    /** Height of a capital letter, mm. */
    size: z.number().positive().max(1e4),
    font: z.enum(Object.keys(letteringFonts) as [LetteringFont, ...LetteringFont[]]).default('text'),
    /** Between letters, more than the font has, mm. */
    spacing: z.number().min(-100).max(1000).default(0),
    /** Against the first direction, degrees. */
    turn: z.number().default(0),
    align: z.enum(['left', 'centre', 'right']).default('left'),
    /** A circle or arc that the letters stand on, by number; `at` then tells where. */
    around: z.int().min(0).optional(),
    /** Inside of the circle, reading the other way. */
    inside: z.boolean().optional(),
  })
  .strict()
export type Lettering = z.output<typeof letteringSchema>
