/** Writes the lists of all steps and of all tools from the files there are, so that a new one is its own file and nothing else. */
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'

const root = path.resolve(import.meta.dirname, '..')
const lists = [
  { folder: 'src/core/steps', ending: '.ts', maker: 'defineStep', name: 'steps', what: 'Every step' },
  {
    folder: 'src/bench/tools',
    ending: '.tsx',
    maker: 'defineTool',
    name: 'tools',
    what: 'Every tool with an icon, a card or a hand of its own',
  },
]

function listOf({ folder, ending, maker, name, what }) {
  const found = []
  for (const stage of readdirSync(path.join(root, folder), { withFileTypes: true }).filter((d) => d.isDirectory()))
    for (const file of readdirSync(path.join(root, folder, stage.name)).sort()) {
      if (!file.endsWith(ending) || file.includes('.test.')) continue
      const text = readFileSync(path.join(root, folder, stage.name, file), 'utf8')
      const made = new RegExp(`export const (\\w+) = ${maker}\\(`).exec(text)
      if (made) found.push({ id: made[1], from: `./${stage.name}/${file.slice(0, -ending.length)}` })
    }
  found.sort((a, b) => (a.from < b.from ? -1 : 1))
  const lines = found.map((f) => `import { ${f.id} } from '${f.from}'`)
  return `/** ${what}. Written by scripts/registries.mjs from the files below this folder; not by hand. */\n${lines.join('\n')}\n\nexport const ${name} = [\n${found.map((f) => `  ${f.id},`).join('\n')}\n]\n`
}

/** Brings the lists up to date. */
export function writeRegistries() {
  for (const l of lists) {
    if (!existsSync(path.join(root, l.folder))) continue
    const file = path.join(root, l.folder, 'all.ts')
    const text = listOf(l)
    if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text)
  }
}

if (process.argv[1] === import.meta.filename) writeRegistries()
