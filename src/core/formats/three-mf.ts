/** 3MF (3MF Core Specification 1.3; packaging by ISO/IEC 29500-2): unit, objects, components with transforms, build items. */
import { certainty, defineFormat } from './format'
import { strToU8, unzipSync, zipSync, type UnzipFileInfo } from 'fflate'
import { SaxesParser } from 'saxes'
import { compose, identity, type Affine } from '@/core/math/affine'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import {
  alwaysUnpacked,
  deepest,
  mostInstances,
  mostObjects,
  mostPlaced,
  mostUnpacked,
  mostUnpackedTimes,
  tooMuch,
} from './limits'
import { damaged, type FileModel, type FilePart } from './model'
import { short } from './stl'
import { Floats, Indices } from './text-scanner'
import type { Unit } from './units'

const core = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02'
const specUnits = new Map<string, Unit>(
  Object.entries({
    micron: 'micron',
    millimeter: 'mm',
    centimeter: 'cm',
    inch: 'inch',
    foot: 'foot',
    meter: 'm',
  } as const),
)

interface ModelObject {
  name: string
  type: string
  points: Floats
  triangles: Indices
  components: { id: string; path?: string; transform: Affine }[]
  /** Group of materials and the number in it. */
  material?: { group: string; at: number }
}

function readTransform(text: string | undefined, where: string): Affine {
  if (!text) return identity
  const v = text.trim().split(/\s+/).map(Number)
  if (v.length !== 12 || !v.every(Number.isFinite)) throw damaged('a transform that is not twelve numbers', where)
  // The file lists columns of the row-vector convention; ours are rows of the column-vector one.
  return [v[0], v[3], v[6], v[9], v[1], v[4], v[7], v[10], v[2], v[5], v[8], v[11]]
}

/** The wanted entries of a package. What all of them would unpack to is known before anything is. */
function unpack(bytes: Uint8Array, wanted: (name: string) => boolean): Map<string, Uint8Array> {
  const most = Math.min(mostUnpacked, Math.max(alwaysUnpacked, mostUnpackedTimes * bytes.length))
  const seen = new Set<string>()
  let total = 0
  try {
    const entries = unzipSync(bytes, {
      filter: (file: UnzipFileInfo) => {
        if (seen.size >= mostObjects) throw tooMuch('entries', mostObjects)
        if (!wanted(file.name) || seen.has(file.name)) return false
        seen.add(file.name)
        total += file.originalSize
        if (total > most)
          throw new StepError(
            'too-large',
            `The package would unpack to more than ${Math.round(most / 2 ** 20)} MB from ${Math.round(bytes.length / 1024)} kB: that is refused.`,
          )
        return true
      },
    })
    return new Map(Object.entries(entries))
  } catch (error) {
    if (error instanceof StepError) throw error
    throw damaged(
      `the package cannot be unpacked: ${error instanceof Error ? error.message : 'unknown'}`,
      'zip directory',
      'Fetch or export the file again.',
    )
  }
}

type Attributes = Record<string, string>

/** Walks XML piece by piece: `open` and `close` get names without their prefix. Entities and wild depth are refused. */
function walkXml(
  bytes: Uint8Array,
  entry: string,
  on: { open(name: string, a: Attributes, where: () => string): void; close?(name: string): void },
): void {
  const parser = new SaxesParser({ xmlns: false })
  const where = () => `${entry}, line ${parser.line}`
  const bare = (name: string) => name.slice(name.indexOf(':') + 1)
  let depth = 0
  parser.on('error', (e) => {
    throw damaged(e.message.replace(/^\d+:\d+: /, '').replace(/\.$/, ''), where())
  })
  parser.on('doctype', () => {
    throw new StepError(
      'refused',
      `The file declares XML entities (${where()}): that is refused, the format forbids it.`,
    )
  })
  parser.on('opentag', (tag) => {
    if (++depth > deepest) throw damaged(`elements more than ${deepest} deep in one another`, where())
    on.open(bare(tag.name), tag.attributes as Attributes, where)
  })
  parser.on('closetag', (tag) => {
    depth--
    on.close?.(bare(tag.name))
  })
  const decoder = new TextDecoder()
  const step = 1 << 18
  for (let i = 0; i < bytes.length; i += step)
    parser.write(decoder.decode(bytes.subarray(i, i + step), { stream: true }))
  parser.close()
}

/** The entry that the package's relations name as its 3D model. */
function rootOf(rels: Uint8Array | undefined): string | null {
  let target: string | null = null
  let relations = 0
  if (rels)
    walkXml(rels, '_rels/.rels', {
      open(name, a) {
        if (name !== 'Relationship') return
        if (++relations > 1000) throw tooMuch('relations', 1000)
        if (/3dmodel$/.test(a.Type ?? '')) target ??= (a.Target ?? '').replace(/^\//, '')
      },
    })
  return target
}

interface ParsedModel {
  unit?: Unit
  objects: Map<string, ModelObject>
  items: { id: string; path?: string; transform: Affine }[]
  /** Colours of groups of materials (chapter 5 of the core specification; colour groups of the materials extension), by group and number. */
  colours: Map<string, string[]>
  notes: string[]
}

/** "#RRGGBB" or "#RRGGBBAA" (sRGB) without its alpha, in small letters. */
const readColour = (text: string | undefined): string =>
  /^#[0-9a-f]{6}([0-9a-f]{2})?$/i.test(text ?? '') ? text!.slice(0, 7).toLowerCase() : ''

function parseModel(bytes: Uint8Array, entry: string): ParsedModel {
  const out: ParsedModel = { objects: new Map(), items: [], colours: new Map(), notes: [] }
  let group: string[] = []
  let object: ModelObject | null = null
  let components = 0
  const need = (attributes: Attributes, key: string, where: () => string): number => {
    const v = Number(attributes[key])
    if (attributes[key] === undefined || attributes[key] === '' || Number.isNaN(v))
      throw damaged(
        `"${key}" is ${attributes[key] === undefined ? 'missing' : `"${attributes[key].slice(0, 20)}"`}`,
        where(),
      )
    return v
  }
  /** What each element of the core specification, or of its materials, adds to the model. */
  const elements: Readonly<Record<string, (a: Attributes, where: () => string) => void>> = {
    vertex: (a, where) => object?.points.push3(need(a, 'x', where), need(a, 'y', where), need(a, 'z', where)),
    triangle(a, where) {
      if (!object) return
      const total = object.points.length / 3
      const v = [need(a, 'v1', where), need(a, 'v2', where), need(a, 'v3', where)]
      for (const i of v)
        if (!Number.isInteger(i) || i < 0 || i >= total)
          throw damaged(`a triangle asks for vertex ${i} of ${total}`, where())
      object.triangles.push3(v[0], v[1], v[2])
    },
    object(a, where) {
      if (!a.id) throw damaged('an object without id', where())
      if (out.objects.size >= mostObjects) throw tooMuch('objects', mostObjects)
      object = {
        name: (a.name || `object ${a.id}`).slice(0, 80),
        type: a.type ?? 'model',
        points: new Floats(),
        triangles: new Indices(),
        components: [],
        material: a.pid === undefined ? undefined : { group: a.pid, at: Number(a.pindex ?? 0) },
      }
      out.objects.set(a.id, object)
    },
    basematerials: (a) => newGroup(a),
    colorgroup: (a) => newGroup(a),
    base: (a) => colourInGroup(a),
    color: (a) => colourInGroup(a),
    component(a, where) {
      if (++components > mostInstances) throw tooMuch('components', mostInstances)
      object?.components.push({ id: a.objectid, path: a['p:path'], transform: readTransform(a.transform, where()) })
    },
    item(a, where) {
      if (out.items.length >= mostInstances) throw tooMuch('build items', mostInstances)
      out.items.push({ id: a.objectid, path: a['p:path'], transform: readTransform(a.transform, where()) })
    },
    model(a, where) {
      const unit = a.unit ?? 'millimeter'
      if (!specUnits.has(unit)) throw damaged(`unit "${unit.slice(0, 30)}"`, where())
      out.unit = specUnits.get(unit)
    },
  }
  const newGroup = (a: Attributes) => {
    group = []
    if (a.id) out.colours.set(a.id, group)
  }
  const colourInGroup = (a: Attributes) => {
    if (group.length < mostObjects) group.push(readColour(a.displaycolor ?? a.color))
  }
  walkXml(bytes, entry, {
    open(name, a, where) {
      if (Object.hasOwn(elements, name)) elements[name](a, where)
    },
    close(name) {
      if (name === 'object') object = null
    },
  })
  return out
}

/** Reads 3MF (Core Specification): objects, components with their transforms, and the unit. Throws StepError `damaged-file` with the entry. */
export function readThreeMf(bytes: Uint8Array): FileModel {
  const entries = unpack(bytes, (name) => /\.model$/i.test(name) || /^_rels\/\.rels$/i.test(name))
  const target = rootOf(entries.get('_rels/.rels'))
  const root = target && entries.has(target) ? target : [...entries.keys()].find((n) => /\.model$/i.test(n))
  if (!root) throw damaged('it holds no 3D model', 'package')
  const models = new Map<string, ParsedModel>()
  const modelOf = (path: string): ParsedModel => {
    const clean = path.replace(/^\//, '')
    let m = models.get(clean)
    if (!m) {
      const entry = entries.get(clean)
      if (!entry) throw damaged(`the part "${clean.slice(0, 80)}" is missing`, 'package')
      models.set(clean, (m = parseModel(entry, clean)))
    }
    return m
  }
  const main = modelOf(root)
  const parts: FilePart[] = []
  const most = mostPlaced(bytes.length)
  let triangles = 0,
    places = 0
  const place = (path: string, id: string, map: Affine, name: string | null, depth: number) => {
    const model = modelOf(path)
    const object = model.objects.get(id)
    if (!object) throw damaged(`object ${id} is asked for and missing`, path)
    if (depth > 32) throw damaged('components that hold themselves', path)
    // A ladder of components that each hold the next one twice doubles at every rung, with nothing in it.
    if (++places > mostInstances) throw tooMuch('placed objects', mostInstances)
    if (object.triangles.length) {
      triangles += object.triangles.length / 3
      if (triangles > most)
        throw tooMuch(`triangles, components placed again counted, for its ${Math.ceil(bytes.length / 1024)} kB`, most)
      const colour = object.material && model.colours.get(object.material.group)?.[object.material.at]
      parts.push({
        name: name ?? object.name,
        ...(colour ? { colour } : {}),
        mesh: transformMesh({ positions: object.points.done(), triangles: object.triangles.done() }, map),
      })
    }
    for (const c of object.components)
      place(
        c.path ?? path,
        c.id,
        compose(map, c.transform),
        object.components.length === 1 ? (name ?? object.name) : null,
        depth + 1,
      )
  }
  const notes = [...main.notes]
  if (main.items.length) for (const item of main.items) place(item.path ?? root, item.id, item.transform, null, 0)
  else {
    notes.push('the file builds nothing; all its objects were read')
    for (const [id, object] of main.objects) if (object.triangles.length) place(root, id, identity, object.name, 0)
  }
  if (!parts.length) throw damaged('it holds no triangles', root)
  return { format: '3mf', parts, unit: main.unit, notes }
}

const escape = (s: string) =>
  s
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
    .replace(/[\u0000-\u001f]/g, ' ')

function objectXml(part: FilePart, id: number, colours: readonly string[], group: number): string {
  const { positions: p, triangles: t } = part.mesh as TriMesh
  const material = part.colour ? ` pid="${group}" pindex="${colours.indexOf(part.colour)}"` : ''
  const lines = [`<object id="${id}" type="model" name="${escape(part.name)}"${material}><mesh><vertices>`]
  for (let i = 0; i < p.length; i += 3)
    lines.push(`<vertex x="${short(p[i])}" y="${short(p[i + 1])}" z="${short(p[i + 2])}"/>`)
  lines.push('</vertices><triangles>')
  for (let i = 0; i < t.length; i += 3) lines.push(`<triangle v1="${t[i]}" v2="${t[i + 1]}" v3="${t[i + 2]}"/>`)
  lines.push('</triangles></mesh></object>')
  return lines.join('\n')
}

/** Writes bodies in mm as one package, a build item each. */
export function writeThreeMf(parts: readonly FilePart[], title: string): Uint8Array {
  const colours = [...new Set(parts.flatMap((p) => p.colour ?? []))]
  const group = parts.length + 1
  const model = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<model unit="millimeter" xml:lang="en" xmlns="${core}">`,
    `<metadata name="Title">${escape(title)}</metadata><metadata name="Application">Glue Bench</metadata>`,
    '<resources>',
    ...(colours.length
      ? [
          `<basematerials id="${group}">`,
          ...colours.map((c) => `<base name="${c}" displaycolor="${c.toUpperCase()}FF"/>`),
          '</basematerials>',
        ]
      : []),
    ...parts.map((p, i) => objectXml(p, i + 1, colours, group)),
    '</resources>',
    '<build>',
    ...parts.map((_, i) => `<item objectid="${i + 1}"/>`),
    '</build>',
    '</model>',
    '',
  ].join('\n')
  const types =
    '<?xml version="1.0" encoding="UTF-8"?>\n<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
  const rels =
    '<?xml version="1.0" encoding="UTF-8"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
  // A fixed date keeps the bytes the same from run to run.
  return zipSync(
    { '[Content_Types].xml': strToU8(types), '_rels/.rels': strToU8(rels), '3D/3dmodel.model': strToU8(model) },
    { level: 6, mtime: new Date(1980, 0, 1) },
  )
}

export const threeMfFormat = defineFormat({
  name: '3mf',
  title: '3MF',
  endings: ['3mf'],
  holds: 'meshes',
  unit: 'stated',
  carries: 'names, colours, bodies apart',
  sniff: ({ bytes }) =>
    bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4 ? certainty.bytes : certainty.none,
  read: readThreeMf,
  write: (parts) => writeThreeMf(parts, parts.map((p) => p.name).join(', ')),
})
