/** STEP (ISO 10303-21), read and written by the exact kernel. */
import { readStep, writeStep } from '@/core/kernels/exact/step-file'
import { certainty, defineFormat } from './format'

export const stepFormat = defineFormat({
  name: 'step',
  title: 'STEP',
  endings: ['step', 'stp'],
  holds: 'exact bodies',
  unit: 'stated',
  carries: 'exact faces, names, colours',
  sniff: ({ words }) => (words[0]?.startsWith('ISO-10303-21') ? certainty.words : certainty.none),
  read: readStep,
  write: (bodies, { schema }) => writeStep(bodies, schema),
})
