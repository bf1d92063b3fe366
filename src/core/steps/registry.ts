/** Every step there is, in the order of the trays. A new step is one file and one line here. */
import type { z } from 'zod'
import type { StepDefinition } from '@/core/step/step'
import { hollow } from './build/hollow'
import { offset } from './build/offset'
import { thicken } from './build/thicken'
import { bridgeGap } from './mend/bridge-gap'
import { closePart } from './mend/close-part'
import { flipPicked } from './mend/flip'
import { healArea } from './mend/heal'
import { merge } from './mend/merge'
import { refine } from './mend/refine'
import { reskin } from './mend/reskin'
import { simplify } from './mend/simplify'
import { smooth } from './mend/smooth'
import { smoothRim } from './mend/smooth-rim'
import { split } from './mend/split'
import { takeApart } from './mend/take-apart'
import { trim } from './mend/trim'
import { widenHole } from './mend/widen-hole'
import { deviation } from './prove/deviation'
import { measure } from './prove/measure'
import { lineUp } from './set-down/line-up'
import { match } from './set-down/match'
import { threeTouch } from './set-down/three-touch'
import { bringInFile } from './bring-in/file'
import { practiceScan } from './bring-in/practice-scan'
import { block } from './build/block'
import { cylinder } from './build/cylinder'
import { difference } from './build/difference'
import { editHole } from './build/edit-hole'
import { intersection } from './build/intersection'
import { union } from './build/union'
import { checkUp } from './mend/check-up'
import { closeHoles } from './mend/close-holes'
import { removeDegenerate } from './mend/degenerate'
import { faceOutward } from './mend/face-outward'
import { mendAll } from './mend/all'
import { removePicked } from './mend/remove'
import { smoothFolds } from './mend/smooth-folds'
import { clearSpecks } from './mend/specks'
import { splitNonManifold } from './mend/split-non-manifold'
import { untangle } from './mend/untangle'
import { weld } from './mend/weld'
import { sendOutFile } from './send-out/file'
import { centre } from './set-down/centre'
import { faceToFloor } from './set-down/face-to-floor'
import { mirrorBody } from './set-down/mirror'
import { move } from './set-down/move'
import { restOnFloor } from './set-down/rest'
import { unitAndSize } from './set-down/size'
import { swapUp } from './set-down/swap-up'
import { turn } from './set-down/turn'

/** A step whose settings type is known only at run time; each is checked by its own schema before it runs. */
export type AnyStep = StepDefinition<z.ZodObject>

export const allSteps: readonly AnyStep[] = [
  bringInFile,
  practiceScan,
  unitAndSize,
  centre,
  restOnFloor,
  faceToFloor,
  turn,
  threeTouch,
  lineUp,
  match,
  move,
  mirrorBody,
  swapUp,
  checkUp,
  mendAll,
  weld,
  clearSpecks,
  faceOutward,
  flipPicked,
  removeDegenerate,
  splitNonManifold,
  untangle,
  removePicked,
  closeHoles,
  closePart,
  bridgeGap,
  widenHole,
  smoothRim,
  healArea,
  smoothFolds,
  smooth,
  simplify,
  refine,
  reskin,
  takeApart,
  merge,
  trim,
  split,
  block,
  cylinder,
  union,
  difference,
  intersection,
  editHole,
  offset,
  thicken,
  hollow,
  deviation,
  measure,
  sendOutFile,
] as unknown as AnyStep[]

const byKind = new Map(allSteps.map((s) => [s.kind, s]))
export const stepOf = (kind: string): AnyStep | undefined => byKind.get(kind)
