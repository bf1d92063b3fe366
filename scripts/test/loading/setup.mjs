/** What a worker of the unit tests does first: sources are read as `hooks.mjs` says, and errors name lines of them. */
import { register } from 'node:module'

register('./hooks.mjs', import.meta.url)
process.setSourceMapsEnabled(true)
