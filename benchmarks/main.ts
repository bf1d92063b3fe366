/** The figures the project holds itself to, as ratios. `benchmark [--json] [NAME]...` */
import { boolean } from './figures/boolean'
import { cleanSet } from './figures/clean-set'
import { checkUpFigure, selfCrossings } from './figures/check-up'
import { drawingFigure } from './figures/drawing'
import { exactFeature } from './figures/exact'
import { matchGrowth, mendGrowth, wallGrowth } from './figures/growth'
import { nativeFigures } from './figures/native'
import { nativeNets } from './figures/native-nets'
import { openParts } from './figures/open-parts'
import { openScans } from './figures/open-scans'
import { hoverPick } from './figures/picking'
import { reRun } from './figures/re-run'
import { readWeld } from './figures/reading'
import {
  closeTwoHundred,
  deviationFigure,
  reskinFigure,
  sectionSlice,
  simplifyFigure,
  simplifyMillion,
} from './figures/shape'

const figures: Record<string, () => Promise<object>> = {
  'read-weld': readWeld,
  boolean,
  'check-up': checkUpFigure,
  'self-crossings': selfCrossings,
  'hover-pick': hoverPick,
  'exact-feature': exactFeature,
  drawing: drawingFigure,
  simplify: simplifyFigure,
  'simplify-million': simplifyMillion,
  deviation: deviationFigure,
  'section-slice': sectionSlice,
  reskin: reskinFigure,
  'close-200': closeTwoHundred,
  're-run': reRun,
  'mend-growth': mendGrowth,
  'wall-growth': wallGrowth,
  'match-growth': matchGrowth,
  native: nativeFigures,
  'native-nets': nativeNets,
  'open-parts': openParts,
  'open-scans': openScans,
  'clean-set': cleanSet,
}
/** They need a compiler, packages that are fetched, or half an hour: only when named. */
const onlyNamed = ['native', 'native-nets', 'open-parts', 'open-scans', 'clean-set']

const args = process.argv.slice(2)
const names = args.filter((a) => !a.startsWith('--'))
const unknown = names.filter((n) => !(n in figures))
if (unknown.length) {
  process.stderr.write(`There is no figure "${unknown[0]}". There are: ${Object.keys(figures).join(', ')}.\n`)
  process.exit(2)
}
const out: Record<string, object> = {}
for (const [name, run] of Object.entries(figures)) {
  if (names.length ? !names.includes(name) : onlyNamed.includes(name)) continue
  process.stderr.write(`${name}\n`)
  out[name] = await run()
}
process.stdout.write(`${JSON.stringify(out, null, 2)}\n`)
