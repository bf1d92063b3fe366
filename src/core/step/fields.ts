/** The kinds of setting a step may have. Each carries what the form, the command line's schema and the documentation need. */
import { z } from 'zod'
import { cageEditSchema } from '@/core/cage/edit/schema'
import { drawingSchema } from '@/core/outline/drawing'
import { triple } from '@/core/find/triple'
import type { Capability } from '@/core/kinds/kind'
import { kindsThat } from '@/core/kinds/registry'
import { partRefSchema } from '@/core/find/part'
import { isTaken, takenSchema } from '@/core/find/taken'
import { touchSchema, type TouchAs } from '@/core/find/touch'
import { regionSchema } from '@/core/find/region'
import { viewLineSchema } from '@/core/find/view-line'

/** What a field is, beside its type. Kept in the schema's own metadata, so it also shows in the JSON Schema. */
export interface FieldInfo {
  field:
    | 'body'
    | 'bodies'
    | 'new-body'
    | 'length'
    | 'angle'
    | 'number'
    | 'percent'
    | 'count'
    | 'choice'
    | 'choices'
    | 'toggle'
    | 'point'
    | 'direction'
    | 'size'
    | 'points'
    | 'touch'
    | 'view-line'
    | 'region'
    | 'face'
    | 'edge'
    | 'faces'
    | 'edges'
    | 'file'
    | 'out-file'
    | 'text'
    | 'drawing'
    | 'taken'
    | 'findings'
    | 'told'
    | 'cage-edits'
  label: string
  help?: string
  unit?: string
  /** Kinds of body that fit, by name; left out: any that has the capability. */
  kinds?: string[]
  /** What a fitting body must be able to do. */
  can?: Capability
  /** This body is changed or used up by the step. */
  changes?: boolean
  min?: number
  max?: number
  labels?: Record<string, string>
  /** Shown only when another field has one of these values. */
  when?: { field: string; is: (string | boolean)[] }
  /** Shown under "More". */
  more?: boolean
  /** A direction or point that a click on a body can fill; "face" fills place and direction. */
  pick?: 'point' | 'face' | 'rims' | 'bore' | 'area'
  /** Picks go on the body that this field names. */
  on?: string
  /** A pick on the body of this other field leaves the field `on` empty. */
  same?: string
  /** What a touch may mean, the likeliest first; or that by the value of another field. */
  means?: readonly TouchAs[] | { by: string; of: Readonly<Record<string, readonly TouchAs[]>> }
  /** A drawn line is closed to an outline while another field has this value. */
  closed?: { field: string; is: string }
  /** What a new body is called unless it is given a name. */
  base?: string
  /** While this region is picked, the shape that the settings ask for is fitted to it and told at once. */
  fitted?: boolean
  /** A list of bodies starts with every fitting one. */
  all?: boolean
  /** A body that is told by a click somewhere on it, and so not chosen beforehand. */
  byClick?: boolean
  /** A ghost that was asked for follows changes of this field by itself. */
  follows?: boolean
  /** The fact that lists what was found. */
  of?: string
  /** A body that is chosen from the list and by no click; the one that is picked beforehand. */
  listed?: boolean
  /** Another field, whose body is not offered here. */
  besides?: string
}

type Extra = Partial<Omit<FieldInfo, 'field' | 'label'>>
const info = (field: FieldInfo['field'], label: string, extra: Extra = {}): FieldInfo => ({ field, label, ...extra })
const finite = z.number().finite()

const bodyName = z
  .string()
  .trim()
  .min(1, 'needs a body name')
  .max(80)
  .refine((n) => n !== '__proto__' && !/[\u0000-\u001f\u007f]/.test(n), 'is no name a body can have')

/** Which bodies fit: any, kinds by name, or whatever has a capability. */
export type Fitting = 'any' | string | readonly string[] | { can: Capability }
const fitting = (f: Fitting): Pick<FieldInfo, 'kinds' | 'can'> =>
  f === 'any'
    ? {}
    : typeof f === 'string'
      ? { kinds: [f] }
      : 'can' in f
        ? { can: f.can }
        : { kinds: [...(f as readonly string[])] }

/** Whether a body of a kind fits a field. */
export const fits = (info: Pick<FieldInfo, 'kinds' | 'can'>, kind: string): boolean =>
  info.kinds ? info.kinds.includes(kind) : !info.can || kindsThat(info.can).includes(kind)

export const bodyRef = (which: Fitting, label = 'Body', extra: Extra = {}) =>
  bodyName.meta({ ...info('body', label, { changes: true, ...extra, ...fitting(which) }) })
export const bodyRefs = (which: Fitting, label: string, { least = 1, ...extra }: Extra & { least?: number } = {}) =>
  z
    .array(bodyName)
    .min(least)
    .max(200)
    .meta({ ...info('bodies', label, { changes: true, ...extra, ...fitting(which) }) })
export const newBody = (label = 'Name', extra: Extra = {}) => bodyName.meta({ ...info('new-body', label, extra) })
export const lengthMm = (label: string, { min = 0, max = 1e5, ...extra }: Extra = {}) =>
  finite
    .min(min)
    .max(max)
    .meta({ ...info('length', label, { unit: 'mm', min, max, ...extra }) })
export const angleDeg = (label: string, { min = -360, max = 360, ...extra }: Extra = {}) =>
  finite
    .min(min)
    .max(max)
    .meta({ ...info('angle', label, { unit: '°', min, max, ...extra }) })
export const factor = (label: string, { min = 1e-6, max = 1e6, ...extra }: Extra = {}) =>
  finite
    .min(min)
    .max(max)
    .meta({ ...info('number', label, { min, max, ...extra }) })
export const percent = (label: string, { min = 0, max = 100, ...extra }: Extra = {}) =>
  finite
    .min(min)
    .max(max)
    .meta({ ...info('percent', label, { unit: '%', min, max, ...extra }) })
export const count = (label: string, { min = 0, max = 1e7, ...extra }: Extra = {}) =>
  z
    .number()
    .int('needs a whole number')
    .min(min)
    .max(max)
    .meta({ ...info('count', label, { min, max, ...extra }) })
export const choice = <const T extends readonly [string, ...string[]]>(
  label: string,
  values: T,
  labels: Record<T[number], string>,
  extra: Extra = {},
) => z.enum(values).meta({ ...info('choice', label, { labels, ...extra }) })
/** Any number of a few, at least one; told as names, or as yes or no for each of them. */
export const choices = <const T extends readonly [string, ...string[]]>(
  label: string,
  values: T,
  labels: Record<T[number], string>,
  { least = 1, ...extra }: Extra & { least?: 0 | 1 } = {},
) =>
  z
    .union([z.array(z.enum(values)), z.array(z.boolean()).length(values.length)])
    .transform((v): T[number][] => values.filter((name, i) => v.includes(name as never) || v[i] === true))
    .refine((v) => v.length >= least, 'needs at least one')
    .meta({ ...info('choices', label, { labels, ...extra }) })
export const toggle = (label: string, extra: Extra = {}) => z.boolean().meta({ ...info('toggle', label, extra) })
/** Three numbers, or what is taken from a body: that is numbers by the time a step runs. */
const numbersOrTaken = z.union([triple, takenSchema], {
  error: 'needs three numbers, or a body to take it from',
}) as unknown as typeof triple
export const point = (label: string, extra: Extra = {}) =>
  numbersOrTaken.meta({ ...info('point', label, { unit: 'mm', ...extra }) })
export const direction = (label: string, extra: Extra = {}) =>
  numbersOrTaken
    .refine((v) => isTaken(v) || Math.hypot(...v) > 1e-9, 'a direction needs a length above zero')
    .meta({ ...info('direction', label, extra) })
export const size3 = (label: string, extra: Extra = {}) =>
  z
    .tuple([finite.positive().max(1e5), finite.positive().max(1e5), finite.positive().max(1e5)])
    .meta({ ...info('size', label, { unit: 'mm', ...extra }) })
export const points = (label: string, extra: Extra = {}) =>
  z
    .array(numbersOrTaken)
    .max(1000)
    .meta({ ...info('points', label, extra) })
export const touch = (label: string, extra: Extra = {}) =>
  touchSchema.meta({ ...info('touch', label, { pick: 'point', ...extra }) })
export const viewLine = (label: string, extra: Extra = {}) =>
  viewLineSchema.meta({ ...info('view-line', label, extra) })
export const regionRef = (label = 'Region', extra: Extra = {}) => regionSchema.meta({ ...info('region', label, extra) })
/** One face of a body, or one edge: the nearest to a place, made firm by its name when it is picked. */
export const faceRef = (label = 'Face', extra: Extra = {}) =>
  partRefSchema.meta({ ...info('face', label, { on: 'body', ...extra }) })
export const edgeRef = (label = 'Edge', extra: Extra = {}) =>
  partRefSchema.meta({ ...info('edge', label, { on: 'body', ...extra }) })
const several = (label: string, field: 'faces' | 'edges', extra: Extra) =>
  z
    .union([z.literal('all'), z.array(partRefSchema).min(1).max(5000)])
    .meta({ ...info(field, label, { on: 'body', ...extra }) })
/** Faces or edges of a body: all of them, or a list. */
export const faceRefs = (label = 'Faces', extra: Extra = {}) => several(label, 'faces', extra)
export const edgeRefs = (label = 'Edges', extra: Extra = {}) => several(label, 'edges', extra)
export const fileRef = (label = 'File') =>
  z
    .string()
    .trim()
    .min(1)
    .max(200)
    .refine((s) => !/[\\/\0]/.test(s) && s !== '..' && s !== '.', 'a file name, not a path')
    .meta({ ...info('file', label) })
export const outFile = (label = 'File name') =>
  z
    .string()
    .trim()
    .min(1)
    .max(200)
    .refine((s) => !/[\\/\0]/.test(s) && s !== '..' && s !== '.', 'a file name, not a path')
    .meta({ ...info('out-file', label) })
export const text = (label: string, extra: Extra = {}) =>
  z
    .string()
    .max(2000)
    .meta({ ...info('text', label, extra) })

/** Those of what a step found that it is to leave alone, by the text that says each. */
export const findings = (label: string, extra: Extra & { of: string }) =>
  z
    .array(z.string().max(300))
    .max(2000)
    .meta({ ...info('findings', label, extra) })

/** What is told by hand about what a step found, one after the other. */
export const toldOf = <Z extends z.ZodType>(label: string, one: Z, extra: Extra & { of: string }) =>
  z
    .array(one)
    .max(2000)
    .meta({ ...info('told', label, extra) })

/** Edges and faces of bodies whose lines are taken over. */
export const takenEdges = (label: string, extra: Extra = {}) =>
  z
    .array(takenSchema)
    .max(200)
    .meta({ ...info('taken', label, extra) })

/** Edits of a cage, one after the other. */
export const cageEdits = (label: string, extra: Extra = {}) =>
  z
    .array(cageEditSchema)
    .max(5000)
    .meta({ ...info('cage-edits', label, extra) })

/** A plane drawing: points, curves, constraints and dimensions. */
export const drawing = (label = 'Drawing', extra: Extra = {}) =>
  drawingSchema.meta({ ...info('drawing', label, extra) })

/** The field behind defaults and optionals. */
function inner(schema: z.ZodType): z.ZodType {
  let s = schema
  while (s instanceof z.ZodDefault || s instanceof z.ZodOptional || s instanceof z.ZodNullable)
    s = s.unwrap() as z.ZodType
  return s
}

export interface FieldEntry {
  readonly key: string
  readonly info: FieldInfo
  readonly optional: boolean
  readonly fallback: unknown
}

const known = new WeakMap<z.ZodObject, FieldEntry[]>()

/** The fields of a settings schema, in order, with whether they may be left out and their default; the same entries each time. */
export function fieldsOf(settings: z.ZodObject): FieldEntry[] {
  let fields = known.get(settings)
  if (!fields) {
    fields = Object.entries(settings.shape).map(([key, schema]) => {
      const s = schema as z.ZodType
      const meta = inner(s).meta() as unknown as FieldInfo | undefined
      if (!meta?.field) throw new Error(`setting "${key}" was not made by a field helper`)
      const parsed = s.safeParse(undefined)
      return { key, info: meta, optional: parsed.success, fallback: parsed.success ? parsed.data : undefined }
    })
    known.set(settings, fields)
  }
  return fields
}

/** Names of bodies that settings read, with whether the step may change them, the names it makes, and the files it reads. */
export function bodiesIn(
  settings: z.ZodObject,
  values: Record<string, unknown>,
): { reads: string[]; changes: string[]; makes: string[]; files: string[] } {
  const reads = new Set<string>(),
    changes = new Set<string>(),
    makes = new Set<string>()
  const files: string[] = []
  const fields = fieldsOf(settings)
  const now = (key: string) => values[key] ?? fields.find((f) => f.key === key)?.fallback
  for (const { key, info: i } of fields) {
    // What does not show with the settings as they are may be looked at, but neither changes nor makes anything.
    const hidden = !!i.when && !i.when.is.includes(now(i.when.field) as string | boolean)
    const v = values[key]
    const names =
      i.field === 'body' && typeof v === 'string'
        ? [v]
        : i.field === 'bodies' && Array.isArray(v)
          ? (v as string[])
          : []
    for (const name of names) {
      reads.add(name)
      if (i.changes && !hidden) changes.add(name)
    }
    for (const t of Array.isArray(v) ? (v as unknown[]) : [v]) if (isTaken(t)) reads.add(t.from)
    if (i.field === 'file' && typeof v === 'string') files.push(v)
    if (i.field === 'new-body' && typeof v === 'string' && !hidden) makes.add(v)
  }
  return { reads: [...reads], changes: [...changes], makes: [...makes], files }
}
