/** Writes the outlines of the shipped fonts' letters for drawings: `node scripts/glyphs.mjs`. Its result is kept in the source. */
import { readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import opentype from 'opentype.js'

const root = path.resolve(import.meta.dirname, '..')
const fonts = {
  text: 'atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-500-normal.woff',
  heading: 'bricolage-grotesque/files/bricolage-grotesque-latin-700-normal.woff',
  figures: 'atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-500-normal.woff',
}

/** Latin letters, figures and signs: Latin-1 and what engravings need beside. */
const characters = [
  ...Array.from({ length: 0x7f - 0x20 }, (_, i) => 0x20 + i),
  ...Array.from({ length: 0x100 - 0xa0 }, (_, i) => 0xa0 + i),
  ...[
    0x152, 0x153, 0x160, 0x161, 0x178, 0x17d, 0x17e, 0x2013, 0x2014, 0x2018, 0x2019, 0x201c, 0x201d, 0x2022, 0x2026,
    0x20ac,
  ],
]

const out = {}
for (const [name, file] of Object.entries(fonts)) {
  const bytes = readFileSync(path.join(root, 'node_modules/@fontsource', file))
  const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength))
  const unit = 1000 / font.unitsPerEm
  const round = (v) => Math.round(v * unit * 10) / 10
  const glyphs = {}
  const used = []
  for (const code of characters) {
    const text = String.fromCodePoint(code)
    const glyph = font.charToGlyph(text)
    if (!glyph.index) continue
    used.push([text, glyph])
    // M x y, L x y, Q x y x y, C x y x y x y, Z: y upward, a thousandth of the em.
    const commands = font.getPath ? glyph.path.commands : []
    glyphs[text] = [
      round(glyph.advanceWidth),
      commands
        .map((c) =>
          c.type === 'Z'
            ? 'Z'
            : `${c.type}${[c.x1, c.y1, c.x2, c.y2, c.x, c.y]
                .filter((v) => v !== undefined)
                .map(round)
                .join(' ')}`,
        )
        .join(''),
    ]
  }
  const kerning = {}
  const letters = used.filter(([t]) => /[A-Za-z0-9.,]/.test(t))
  for (const [a, g] of letters)
    for (const [b, h] of letters) {
      const k = font.getKerningValue(g, h)
      if (k) kerning[a + b] = round(k)
    }
  const high = font.charToGlyph('H').getBoundingBox()
  out[name] = { capital: round(high.y2), glyphs, kerning }
}
writeFileSync(
  path.join(root, 'src/core/outline/glyphs.ts'),
  `/** Letters of the shipped fonts, written by scripts/glyphs.mjs. */\nconst glyphs: unknown = ${JSON.stringify(out)}\nexport default glyphs\n`,
)
