/** Every tool with an icon, a card or a hand of its own. Written by scripts/registries.mjs from the files below this folder; not by hand. */
import { fileTool } from './bring-in/file'
import { practiceScanTool } from './bring-in/practice-scan'
import { axisTool } from './build/axis'
import { blockTool } from './build/block'
import { capTool } from './build/cap'
import { chamferTool } from './build/chamfer'
import { coneTool } from './build/cone'
import { copiesTool } from './build/copies'
import { cutByPlaneTool } from './build/cut-by-plane'
import { cylinderTool } from './build/cylinder'
import { deleteFaceTool } from './build/delete-face'
import { differenceTool } from './build/difference'
import { draftTool } from './build/draft'
import { editHoleTool } from './build/edit-hole'
import { extendTool } from './build/extend'
import { extrudeTool } from './build/extrude'
import { filletTool } from './build/fillet'
import { holeTool } from './build/hole'
import { hollowTool } from './build/hollow'
import { intersectionTool } from './build/intersection'
import { letteringTool } from './build/lettering'
import { loftTool } from './build/loft'
import { mirrorCopyTool } from './build/mirror'
import { offsetTool } from './build/offset'
import { offsetFaceTool } from './build/offset-face'
import { outlineTool } from './build/outline'
import { pipeTool } from './build/pipe'
import { planeTool } from './build/plane'
import { pointTool } from './build/point'
import { replaceFaceTool } from './build/replace-face'
import { revolveTool } from './build/revolve'
import { ringTool } from './build/ring'
import { sewTool } from './build/sew'
import { shellTool } from './build/shell'
import { sphereTool } from './build/sphere'
import { splitByTool } from './build/split-by'
import { sweepTool } from './build/sweep'
import { thickenTool } from './build/thicken'
import { trimSheetTool } from './build/trim-sheet'
import { unionTool } from './build/union'
import { autoSkinTool } from './convert/auto-skin'
import { cageTool } from './convert/cage'
import { cageFromSectionsTool } from './convert/cage-from-sections'
import { cageShapeTool } from './convert/cage-shape'
import { cleanSolidTool } from './convert/clean-solid'
import { editCageTool } from './convert/edit-cage'
import { facetSolidTool } from './convert/facet-solid'
import { fitShapeTool } from './convert/fit-shape'
import { joinCagesTool } from './convert/join-cages'
import { layOnTool } from './convert/lay-on'
import { quadNetTool } from './convert/quad-net'
import { recogniseTool } from './convert/recognise'
import { rimTool } from './convert/rim'
import { sectionLineTool } from './convert/section-line'
import { silhouetteTool } from './convert/silhouette'
import { skinRegionTool } from './convert/skin-region'
import { smoothSolidTool } from './convert/smooth-solid'
import { traceTool } from './convert/trace'
import { allTool } from './mend/all'
import { bridgeGapTool } from './mend/bridge-gap'
import { checkUpTool } from './mend/check-up'
import { closeHolesTool } from './mend/close-holes'
import { closePartTool } from './mend/close-part'
import { degenerateTool } from './mend/degenerate'
import { faceOutwardTool } from './mend/face-outward'
import { flipTool } from './mend/flip'
import { healTool } from './mend/heal'
import { mergeTool } from './mend/merge'
import { refineTool } from './mend/refine'
import { removeTool } from './mend/remove'
import { reskinTool } from './mend/reskin'
import { simplifyTool } from './mend/simplify'
import { smoothTool } from './mend/smooth'
import { smoothFoldsTool } from './mend/smooth-folds'
import { smoothRimTool } from './mend/smooth-rim'
import { specksTool } from './mend/specks'
import { splitTool } from './mend/split'
import { splitNonManifoldTool } from './mend/split-non-manifold'
import { takeApartTool } from './mend/take-apart'
import { trimTool } from './mend/trim'
import { untangleTool } from './mend/untangle'
import { weldTool } from './mend/weld'
import { widenHoleTool } from './mend/widen-hole'
import { deviationTool } from './prove/deviation'
import { measureTool } from './prove/measure'
import { sendOutFileTool } from './send-out/file'
import { centreTool } from './set-down/centre'
import { faceToFloorTool } from './set-down/face-to-floor'
import { lineUpTool } from './set-down/line-up'
import { matchTool } from './set-down/match'
import { mirrorTool } from './set-down/mirror'
import { moveTool } from './set-down/move'
import { restTool } from './set-down/rest'
import { sizeTool } from './set-down/size'
import { swapUpTool } from './set-down/swap-up'
import { threeTouchTool } from './set-down/three-touch'
import { turnTool } from './set-down/turn'

export const tools = [
  fileTool,
  practiceScanTool,
  axisTool,
  blockTool,
  capTool,
  chamferTool,
  coneTool,
  copiesTool,
  cutByPlaneTool,
  cylinderTool,
  deleteFaceTool,
  differenceTool,
  draftTool,
  editHoleTool,
  extendTool,
  extrudeTool,
  filletTool,
  holeTool,
  hollowTool,
  intersectionTool,
  letteringTool,
  loftTool,
  mirrorCopyTool,
  offsetTool,
  offsetFaceTool,
  outlineTool,
  pipeTool,
  planeTool,
  pointTool,
  replaceFaceTool,
  revolveTool,
  ringTool,
  sewTool,
  shellTool,
  sphereTool,
  splitByTool,
  sweepTool,
  thickenTool,
  trimSheetTool,
  unionTool,
  autoSkinTool,
  cageTool,
  cageFromSectionsTool,
  cageShapeTool,
  cleanSolidTool,
  editCageTool,
  facetSolidTool,
  fitShapeTool,
  joinCagesTool,
  layOnTool,
  quadNetTool,
  recogniseTool,
  rimTool,
  sectionLineTool,
  silhouetteTool,
  skinRegionTool,
  smoothSolidTool,
  traceTool,
  allTool,
  bridgeGapTool,
  checkUpTool,
  closeHolesTool,
  closePartTool,
  degenerateTool,
  faceOutwardTool,
  flipTool,
  healTool,
  mergeTool,
  refineTool,
  removeTool,
  reskinTool,
  simplifyTool,
  smoothTool,
  smoothFoldsTool,
  smoothRimTool,
  specksTool,
  splitTool,
  splitNonManifoldTool,
  takeApartTool,
  trimTool,
  untangleTool,
  weldTool,
  widenHoleTool,
  deviationTool,
  measureTool,
  sendOutFileTool,
  centreTool,
  faceToFloorTool,
  lineUpTool,
  matchTool,
  mirrorTool,
  moveTool,
  restTool,
  sizeTool,
  swapUpTool,
  threeTouchTool,
  turnTool,
]
