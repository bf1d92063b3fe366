/** The kinds of field, each in a folder of its own. A new one is one folder and one line here. */
import type { FieldInfo } from '@/core/step/fields'
import { bodiesField } from './bodies'
import { bodyField } from './body'
import { cageEditsField } from './cage-edits'
import { choiceField } from './choice'
import { choicesField } from './choices'
import { drawingField } from './drawing'
import type { FieldKit } from './field'
import { findingsField } from './findings'
import { registerFields } from './kits'
import { numberField } from './number'
import { partField } from './part'
import { pointsField } from './points'
import { regionField } from './region'
import { takenField } from './taken'
import { textField } from './text'
import { toggleField } from './toggle'
import { toldField } from './told'
import { touchField } from './touch'
import { vectorField } from './vector'
import { viewLineField } from './view-line'

const kits: Record<FieldInfo['field'], FieldKit> = {
  body: bodyField,
  bodies: bodiesField,
  choice: choiceField,
  choices: choicesField,
  toggle: toggleField,
  length: numberField,
  angle: numberField,
  number: numberField,
  count: numberField,
  percent: numberField,
  point: vectorField,
  direction: vectorField,
  size: vectorField,
  points: pointsField,
  touch: touchField,
  'view-line': viewLineField,
  drawing: drawingField,
  'cage-edits': cageEditsField,
  taken: takenField,
  findings: findingsField,
  told: toldField,
  region: regionField,
  face: partField,
  edge: partField,
  faces: partField,
  edges: partField,
  'new-body': textField,
  file: textField,
  'out-file': textField,
  text: textField,
}

registerFields(kits)

export { handOf, kitOf } from './kits'
