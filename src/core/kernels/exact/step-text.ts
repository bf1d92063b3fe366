/** What the kernel's reader leaves out of a STEP file (ISO 10303-21): names of products and colours of bodies, read from the text. */

interface Entity {
  readonly keyword: string
  /** The text between the outer brackets. */
  readonly body: string
}

/** What a file says of one body: its entity number, its product's name, its colour as "#rrggbb". */
export interface StepNote {
  readonly entity: number
  readonly name?: string
  readonly colour?: string
}

const bodies = new Set(['MANIFOLD_SOLID_BREP', 'BREP_WITH_VOIDS', 'FACETED_BREP', 'SHELL_BASED_SURFACE_MODEL'])
const wanted = new RegExp(
  `^(?:${[...bodies].join('|')}|PRODUCT|PRODUCT_DEFINITION|PRODUCT_DEFINITION_SHAPE|PRODUCT_DEFINITION_FORMATION\\w*|SHAPE_DEFINITION_REPRESENTATION|\\w*SHAPE_REPRESENTATION|SHAPE_REPRESENTATION_RELATIONSHIP|STYLED_ITEM|OVER_RIDING_STYLED_ITEM|PRESENTATION_STYLE\\w*|SURFACE_S\\w*|FILL_AREA\\w*|COLOUR_RGB|DRAUGHTING_PRE_DEFINED_COLOUR)$`,
)

/** Entities by number, in one pass that knows strings and comments. */
export function stepEntities(text: string): Map<number, Entity> {
  const out = new Map<number, Entity>()
  const end = text.length
  let at = text.indexOf('DATA;')
  if (at < 0) return out
  at += 5
  while (at < end) {
    const hash = text.indexOf('#', at)
    if (hash < 0) break
    let i = hash + 1
    let id = 0
    while (i < end && text.charCodeAt(i) >= 48 && text.charCodeAt(i) <= 57) id = id * 10 + text.charCodeAt(i++) - 48
    // To the semicolon outside of strings.
    let stop = i
    let quoted = false
    for (; stop < end; stop++) {
      const c = text.charCodeAt(stop)
      if (c === 39) quoted = !quoted
      else if (c === 59 && !quoted) break
    }
    const m = /^\s*=\s*([A-Z0-9_]+)\s*\(/.exec(text.slice(i, Math.min(stop, i + 120)))
    if (m && wanted.test(m[1]))
      out.set(id, { keyword: m[1], body: text.slice(i + m[0].length, stop).replace(/\)\s*$/, '') })
    at = stop + 1
  }
  return out
}

/** A string of the file in plain letters: '' and the \X\, \X2\ and \X4\ forms of ISO 10303-21. */
export const stepString = (raw: string): string =>
  raw
    .replace(/''/g, "'")
    .replace(/\\X2\\((?:[0-9A-F]{4})+)\\X0\\/g, (_, hex: string) =>
      (hex.match(/.{4}/g) ?? []).map((h) => String.fromCharCode(parseInt(h, 16))).join(''),
    )
    .replace(/\\X4\\((?:[0-9A-F]{8})+)\\X0\\/g, (_, hex: string) =>
      (hex.match(/.{8}/g) ?? []).map((h) => String.fromCodePoint(Math.min(0x10ffff, parseInt(h, 16)))).join(''),
    )
    .replace(/\\X\\([0-9A-F]{2})/g, (_, h: string) => String.fromCharCode(parseInt(h, 16)))
    .replace(/\\\\/g, '\\')

/** The other way: plain letters as a string of the file. */
export const toStepString = (plain: string): string =>
  plain
    .replace(/\\/g, '\\\\')
    .replace(/'/g, "''")
    .replace(
      /[^\x20-\x7e]+/g,
      (s) =>
        `\\X2\\${[...Array(s.length).keys()].map((i) => s.charCodeAt(i).toString(16).toUpperCase().padStart(4, '0')).join('')}\\X0\\`,
    )

const refs = (body: string): number[] =>
  [...body.replace(/'(?:[^']|'')*'/g, "''").matchAll(/#(\d+)/g)].map((m) => Number(m[1]))
const strings = (body: string): string[] => [...body.matchAll(/'((?:[^']|'')*)'/g)].map((m) => stepString(m[1]))

const plainColours: Record<string, string> = {
  red: '#ff0000',
  green: '#00ff00',
  blue: '#0000ff',
  yellow: '#ffff00',
  magenta: '#ff00ff',
  cyan: '#00ffff',
  black: '#000000',
  white: '#ffffff',
}

function colourBelow(entities: Map<number, Entity>, start: number, depth = 0): string | undefined {
  const e = entities.get(start)
  if (!e || depth > 8) return undefined
  if (e.keyword === 'COLOUR_RGB') {
    const v = e.body
      .replace(/'(?:[^']|'')*'/, '')
      .split(',')
      .slice(1)
      .map(Number)
    if (v.length < 3 || !v.every((x) => x >= 0 && x <= 1)) return undefined
    return `#${v
      .slice(0, 3)
      .map((x) =>
        Math.round(255 * x)
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`
  }
  if (e.keyword === 'DRAUGHTING_PRE_DEFINED_COLOUR') return plainColours[strings(e.body)[0]?.toLowerCase() ?? '']
  for (const r of refs(e.body)) {
    const c = colourBelow(entities, r, depth + 1)
    if (c) return c
  }
  return undefined
}

type Entities = ReturnType<typeof stepEntities>
const those = (entities: Entities, test: (keyword: string) => boolean) =>
  [...entities].filter(([, e]) => test(e.keyword))

/** Representation -> the product it shows; plain shape representations stand for the one they are related to. */
function productsOf(entities: Entities): Map<number, string> {
  const product = new Map<number, string>()
  for (const [, e] of those(entities, (k) => k === 'SHAPE_DEFINITION_REPRESENTATION')) {
    const [shape, representation] = refs(e.body)
    const definition = refs(entities.get(shape)?.body ?? '').at(-1)
    const formation = refs(entities.get(definition ?? -1)?.body ?? '')[0]
    const made = refs(entities.get(formation ?? -1)?.body ?? '')[0]
    const [id, name] = strings(entities.get(made ?? -1)?.body ?? '')
    const said = name || id
    if (said) product.set(representation, said)
  }
  for (const [, e] of those(entities, (k) => k === 'SHAPE_REPRESENTATION_RELATIONSHIP')) {
    const [a, b] = refs(e.body)
    if (product.has(a) && !product.has(b)) product.set(b, product.get(a)!)
    else if (product.has(b) && !product.has(a)) product.set(a, product.get(b)!)
  }
  return product
}

/** Colours of bodies, by the styled items over them. */
function coloursOf(entities: Entities): Map<number, string> {
  const colourOf = new Map<number, string>()
  for (const [, e] of those(entities, (k) => k === 'STYLED_ITEM' || k === 'OVER_RIDING_STYLED_ITEM')) {
    const list = refs(e.body)
    const target = e.keyword === 'STYLED_ITEM' ? list.at(-1) : list.at(-2)
    if (target === undefined || !bodies.has(entities.get(target)?.keyword ?? '')) continue
    const colour = list.map((r) => colourBelow(entities, r)).find(Boolean)
    if (colour) colourOf.set(target, colour)
  }
  return colourOf
}

/** What the text says of each body in it. */
export function stepNotes(text: string): StepNote[] {
  const entities = stepEntities(text)
  const product = productsOf(entities)
  const nameOf = new Map<number, string>()
  for (const [id, e] of those(entities, (k) => k.endsWith('SHAPE_REPRESENTATION'))) {
    const name = product.get(id)
    if (name) for (const r of refs(e.body)) if (bodies.has(entities.get(r)?.keyword ?? '')) nameOf.set(r, name)
  }
  const colourOf = coloursOf(entities)
  return those(entities, (k) => bodies.has(k)).map(([entity, e]) => {
    const own = strings(e.body)[0]
    const name = own && !/^(solid|none|body|brep)?$/i.test(own) ? own : nameOf.get(entity)
    const colour = colourOf.get(entity)
    return { entity, ...(name ? { name } : {}), ...(colour ? { colour } : {}) }
  })
}

/**
 * The text with a colour for each body that has one, as sRGB "#rrggbb": styled items over its solids and surface models (ISO 10303-46,
 * surface style by fill area). Bodies are told by the order of their products.
 */
export function coloured(text: string, bodies: readonly { readonly name: string; readonly colour?: string }[]): string {
  if (!bodies.some((b) => b.colour)) return text
  const notes = stepNotes(text)
  const entities = stepEntities(text)
  let next = Math.max(...entities.keys(), ...[...text.matchAll(/^#(\d+)/gm)].map((m) => Number(m[1]))) + 1
  const context = /\w*SHAPE_REPRESENTATION\('[^']*',\s*\([^)]*\),\s*#(\d+)\)/.exec(text)?.[1]
  if (context === undefined) return text
  const lines: string[] = []
  const add = (entity: string) => {
    lines.push(`#${next} = ${entity};`)
    return `#${next++}`
  }
  const styled: string[] = []
  // The same colour is written once.
  const styles = new Map<string, string>()
  for (const { entity, name } of notes) {
    const colour = bodies.find((b) => b.name === name)?.colour
    if (!colour || !/^#[0-9a-f]{6}$/i.test(colour)) continue
    let style = styles.get(colour)
    if (!style) {
      const [r, g, b] = [1, 3, 5].map((i) => (parseInt(colour.slice(i, i + 2), 16) / 255).toFixed(6))
      const rgb = add(`COLOUR_RGB('',${r},${g},${b})`)
      const fill = add(`FILL_AREA_STYLE('',(${add(`FILL_AREA_STYLE_COLOUR('',${rgb})`)}))`)
      const side = add(`SURFACE_SIDE_STYLE('',(${add(`SURFACE_STYLE_FILL_AREA(${fill})`)}))`)
      style = add(`PRESENTATION_STYLE_ASSIGNMENT((${add(`SURFACE_STYLE_USAGE(.BOTH.,${side})`)}))`)
      styles.set(colour, style)
    }
    styled.push(add(`STYLED_ITEM('color',(${style}),#${entity})`))
  }
  if (!styled.length) return text
  add(`MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${styled.join(',')}),#${context})`)
  const end = text.lastIndexOf('ENDSEC;')
  return `${text.slice(0, end)}${lines.join('\n')}\n${text.slice(end)}`
}
