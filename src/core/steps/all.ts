/** Every step. Written by scripts/registries.mjs from the files below this folder; not by hand. */
import { bringInFile } from './bring-in/file'
import { practiceScan } from './bring-in/practice-scan'
import { axis } from './build/axis'
import { block } from './build/block'
import { cap } from './build/cap'
import { chamfer } from './build/chamfer'
import { cone } from './build/cone'
import { copies } from './build/copies'
import { cutByPlane } from './build/cut-by-plane'
import { cylinder } from './build/cylinder'
import { deleteFace } from './build/delete-face'
import { difference } from './build/difference'
import { draft } from './build/draft'
import { editHole } from './build/edit-hole'
import { extend } from './build/extend'
import { extrude } from './build/extrude'
import { fillet } from './build/fillet'
import { hole } from './build/hole'
import { hollow } from './build/hollow'
import { intersection } from './build/intersection'
import { lettering } from './build/lettering'
import { loft } from './build/loft'
import { mirrorCopy } from './build/mirror'
import { offset } from './build/offset'
import { offsetFace } from './build/offset-face'
import { outline } from './build/outline'
import { pipe } from './build/pipe'
import { plane } from './build/plane'
import { datumPoint } from './build/point'
import { replaceFace } from './build/replace-face'
import { revolve } from './build/revolve'
import { ring } from './build/ring'
import { sew } from './build/sew'
import { shell } from './build/shell'
import { sphere } from './build/sphere'
import { splitBy } from './build/split-by'
import { sweep } from './build/sweep'
import { thicken } from './build/thicken'
import { trimSheet } from './build/trim-sheet'
import { union } from './build/union'
import { autoSkin } from './convert/auto-skin'
import { cage } from './convert/cage'
import { cageFromSections } from './convert/cage-from-sections'
import { cageShape } from './convert/cage-shape'
import { cleanSolid } from './convert/clean-solid'
import { editCage } from './convert/edit-cage'
import { facetSolid } from './convert/facet-solid'
import { fitShape } from './convert/fit-shape'
import { joinCages } from './convert/join-cages'
import { layOn } from './convert/lay-on'
import { quadNet } from './convert/quad-net'
import { recognise } from './convert/recognise'
import { rim } from './convert/rim'
import { sectionLine } from './convert/section-line'
import { silhouette } from './convert/silhouette'
import { skinRegion } from './convert/skin-region'
import { smoothSolid } from './convert/smooth-solid'
import { trace } from './convert/trace'
import { mendAll } from './mend/all'
import { bridgeGap } from './mend/bridge-gap'
import { checkUp } from './mend/check-up'
import { closeHoles } from './mend/close-holes'
import { closePart } from './mend/close-part'
import { removeDegenerate } from './mend/degenerate'
import { faceOutward } from './mend/face-outward'
import { flipPicked } from './mend/flip'
import { healArea } from './mend/heal'
import { merge } from './mend/merge'
import { refine } from './mend/refine'
import { removePicked } from './mend/remove'
import { reskin } from './mend/reskin'
import { simplify } from './mend/simplify'
import { smooth } from './mend/smooth'
import { smoothFolds } from './mend/smooth-folds'
import { smoothRim } from './mend/smooth-rim'
import { clearSpecks } from './mend/specks'
import { split } from './mend/split'
import { splitNonManifold } from './mend/split-non-manifold'
import { takeApart } from './mend/take-apart'
import { trim } from './mend/trim'
import { untangle } from './mend/untangle'
import { weld } from './mend/weld'
import { widenHole } from './mend/widen-hole'
import { deviation } from './prove/deviation'
import { measure } from './prove/measure'
import { sendOutFile } from './send-out/file'
import { centre } from './set-down/centre'
import { faceToFloor } from './set-down/face-to-floor'
import { lineUp } from './set-down/line-up'
import { match } from './set-down/match'
import { mirrorBody } from './set-down/mirror'
import { move } from './set-down/move'
import { restOnFloor } from './set-down/rest'
import { unitAndSize } from './set-down/size'
import { swapUp } from './set-down/swap-up'
import { threeTouch } from './set-down/three-touch'
import { turn } from './set-down/turn'

export const steps = [
  bringInFile,
  practiceScan,
  axis,
  block,
  cap,
  chamfer,
  cone,
  copies,
  cutByPlane,
  cylinder,
  deleteFace,
  difference,
  draft,
  editHole,
  extend,
  extrude,
  fillet,
  hole,
  hollow,
  intersection,
  lettering,
  loft,
  mirrorCopy,
  offset,
  offsetFace,
  outline,
  pipe,
  plane,
  datumPoint,
  replaceFace,
  revolve,
  ring,
  sew,
  shell,
  sphere,
  splitBy,
  sweep,
  thicken,
  trimSheet,
  union,
  autoSkin,
  cage,
  cageFromSections,
  cageShape,
  cleanSolid,
  editCage,
  facetSolid,
  fitShape,
  joinCages,
  layOn,
  quadNet,
  recognise,
  rim,
  sectionLine,
  silhouette,
  skinRegion,
  smoothSolid,
  trace,
  mendAll,
  bridgeGap,
  checkUp,
  closeHoles,
  closePart,
  removeDegenerate,
  faceOutward,
  flipPicked,
  healArea,
  merge,
  refine,
  removePicked,
  reskin,
  simplify,
  smooth,
  smoothFolds,
  smoothRim,
  clearSpecks,
  split,
  splitNonManifold,
  takeApart,
  trim,
  untangle,
  weld,
  widenHole,
  deviation,
  measure,
  sendOutFile,
  centre,
  faceToFloor,
  lineUp,
  match,
  mirrorBody,
  move,
  restOnFloor,
  unitAndSize,
  swapUp,
  threeTouch,
  turn,
]
