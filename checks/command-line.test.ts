/** The command line as scripts meet it: exit codes, JSON, files, equal bytes on two runs. */
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { spawn, spawnSync } from 'node:child_process'
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { strFromU8, unzipSync } from 'fflate'
import { SaxesParser } from 'saxes'
import { readMeshFile } from '@/core/formats/read'
import { writeFile } from '@/core/formats/write'
import { meshVolume } from '@/core/mesh/measures'
import { box, shifted, sphere, without } from '@/testing/shapes'

let dir: string
const run = (...args: string[]) => spawnSync('./glue-bench', args, { encoding: 'utf8', maxBuffer: 1 << 27 })
const at = (name: string) => path.join(dir, name)
beforeAll(() => {
  dir = mkdtempSync(path.join(tmpdir(), 'gb-cli-'))
  writeFileSync(
    at('ball.stl'),
    writeFile('stl', [{ name: 'ball', mesh: without(sphere(10, 4), (_x, _y, z) => z > 9) }]),
  )
})
afterAll(() => rmSync(dir, { recursive: true, force: true }))

describe('a full disk', () => {
  it('is told in a sentence, by what writes one file and by a run', () => {
    const full = (name: string) => symlinkSync('/dev/full', at(name))
    full('full.stl.part')
    const converted = run('convert', at('ball.stl'), at('full.stl'))
    expect(converted.stderr).toMatch(/^The disk is full/)
    expect(converted.status).toBe(1)
    mkdirSync(at('full'))
    full('full/ball.stl.part')
    const steps = [
      { id: '1', kind: 'bring-in/file', set: { file: 'ball.stl', name: 'b' } },
      { id: '2', kind: 'send-out/file', set: { bodies: ['b'], file: 'ball.stl' } },
    ]
    writeFileSync(at('full.json'), JSON.stringify({ format: 'glue-bench/recipe', version: 1, steps }))
    const ran = run('run', at('full.json'), '--out', at('full'))
    expect(ran.stderr).toMatch(/The disk is full/)
    expect(ran.status).toBe(1)
    expect(readdirSync(at('full'))).toEqual([])
  })
})

describe('a run that is ended', () => {
  it('has written each file and the report as far as it came, and says so', async () => {
    const out = at('ended')
    const report = at('ended.json')
    const block = (id: string, name: string, x: number) => ({
      id,
      kind: 'build/block',
      set: { name, size: [10, 10, 10], at: [x, 0, 0] },
    })
    // The last step takes far longer than the test waits.
    writeFileSync(
      at('long.json'),
      JSON.stringify({
        format: 'glue-bench/recipe',
        version: 1,
        steps: [
          block('1', 'a', 0),
          { id: '2', kind: 'send-out/file', set: { bodies: ['a'], file: 'a.stl' } },
          { id: '3', kind: 'build/lettering', set: { text: 'Abcdefg hi '.repeat(15), size: 5, name: 'l' } },
          { id: '4', kind: 'build/lettering', set: { text: 'Abcdefg hi '.repeat(15), size: 6, name: 'm' } },
          { id: '5', kind: 'build/lettering', set: { text: 'Abcdefg hi '.repeat(15), size: 7, name: 'n' } },
        ],
      }),
    )
    const child = spawn('./glue-bench', ['run', at('long.json'), '--out', out, '--report', report])
    let said = ''
    child.stdout.on('data', (d: Buffer) => (said += d.toString()))
    const ended = new Promise<number | null>((resolve) => child.once('exit', resolve))
    while (!existsSync(path.join(out, 'a.stl')) || !existsSync(report) || !readFileSync(report, 'utf8').includes('"2"'))
      await new Promise((go) => setTimeout(go, 50))
    child.kill('SIGTERM')
    expect(await ended).toBe(143)
    expect(readMeshFile(new Uint8Array(readFileSync(path.join(out, 'a.stl'))), 'a.stl').parts).toHaveLength(1)
    const kept = JSON.parse(readFileSync(report, 'utf8')) as {
      ok: boolean
      unfinished: boolean
      steps: { id: string }[]
    }
    expect(kept).toMatchObject({ ok: false, unfinished: true })
    expect(kept.steps.map((s) => s.id).slice(0, 2)).toEqual(['1', '2'])
    const told = JSON.parse(said) as { error: { code: string }; steps: unknown[] }
    expect(told.error.code).toBe('stopped')
    expect(told.steps.length).toBeGreaterThanOrEqual(2)
    expect(readdirSync(out)).toEqual(['a.stl'])
  }, 60_000)
})

describe('checkup', () => {
  it('prints the stable facts and nothing else', () => {
    const r = run('checkup', at('ball.stl'))
    expect(r.status).toBe(0)
    const facts = JSON.parse(r.stdout) as Record<string, unknown>
    for (const k of [
      'triangles',
      'vertices',
      'pieces',
      'size',
      'closed',
      'openEdges',
      'holes',
      'nonManifoldEdges',
      'nonManifoldVertices',
      'flippedEdges',
      'insideOutPieces',
      'degenerate',
      'duplicates',
      'folded',
      'selfCrossings',
      'volume',
      'area',
    ])
      expect(facts).toHaveProperty(k)
    expect(facts).toMatchObject({ closed: false, pieces: 1, selfCrossings: 0 })
  })
  it('says in a sentence what is missing or damaged', () => {
    expect(run('checkup', at('none.stl'))).toMatchObject({ status: 1 })
    expect(run('checkup', at('none.stl')).stderr).toMatch(/There is no file/)
    writeFileSync(at('bad.stl'), 'solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 q\n')
    expect(run('checkup', at('bad.stl')).stderr).toMatch(/line 4/)
    expect(run('sing').status).toBe(2)
  })
})

describe('convert', () => {
  it.each(['obj', 'ply', 'off', '3mf', 'stl'])('to %s keeps the volume', (ending) => {
    writeFileSync(at('box.stl'), writeFile('stl', [{ name: 'b', mesh: box(10, 20, 30, 3) }]))
    expect(run('convert', at('box.stl'), at(`box.${ending}`)).status).toBe(0)
    expect(meshVolume(readMeshFile(readFileSync(at(`box.${ending}`)), 'x').parts[0].mesh)).toBeCloseTo(6000, 3)
  })
})

describe('run', () => {
  const recipe = {
    format: 'glue-bench/recipe',
    version: 1,
    title: 't',
    steps: [
      { id: 'a', kind: 'bring-in/file', set: { file: 'ball.stl', unit: 'mm', name: 'ball' } },
      { id: 'b', kind: 'mend/close-holes', set: { body: 'ball', how: 'curvature' } },
      { id: 'c', kind: 'mend/trim', set: { body: 'ball', at: [0, 0, 0], axis: [0, 0, 1], keep: 'both', other: 'low' } },
      { id: 'd', kind: 'build/offset', set: { body: 'low', by: 1, edge: 1 } },
      {
        id: 'e',
        kind: 'prove/measure',
        set: { what: 'faces', body: 'ball', from: { as: 'plane', at: [0, 0, 0] }, to: { as: 'plane', at: [0, 0, 0] } },
      },
      { id: 'f', kind: 'send-out/file', set: { bodies: ['ball', 'low'], file: 'halves.3mf' } },
    ],
  }
  it('evaluates a recipe beside its files, twice to the same bytes', () => {
    writeFileSync(at('r.json'), JSON.stringify(recipe))
    const outputs = [1, 2].map((i) => {
      const r = run('run', at('r.json'), '--out', at('.'), '--report', at(`report${i}.json`))
      expect(r.status).toBe(0)
      return {
        report: JSON.parse(r.stdout) as {
          ok: boolean
          bodies: { name: string; kind: string; facts: { closed: boolean; volume: number } }[]
          steps: { id: string; ok: boolean; ms: number }[]
        },
        bytes: readFileSync(at('halves.3mf')),
      }
    })
    expect(outputs[0].bytes.equals(outputs[1].bytes)).toBe(true)
    const { report } = outputs[0]
    expect(report.steps.map((s) => s.id)).toEqual(['a', 'b', 'c', 'd', 'e', 'f'])
    expect(report.bodies.map((b) => b.name).sort()).toEqual(['ball', 'low'])
    expect(report.bodies.every((b) => b.facts.closed)).toBe(true)
    // Half a ball, 2/3 pi r³.
    expect(report.bodies.find((b) => b.name === 'ball')!.facts.volume / ((2 / 3) * Math.PI * 1000)).toBeCloseTo(1, 1)
  })
  it('names the failing step, with exit code 1, and an unknown key', () => {
    writeFileSync(
      at('bad.json'),
      JSON.stringify({
        ...recipe,
        steps: [recipe.steps[0], { id: 'x', kind: 'build/offset', set: { body: 'ball', by: 1 } }],
      }),
    )
    const r = run('run', at('bad.json'), '--out', at('.'))
    expect(r.status).toBe(1)
    expect(r.stderr).toMatch(/step "x" \(build\/offset\) failed: "ball" is not a clean closed skin: 1 hole/)
    writeFileSync(
      at('key.json'),
      JSON.stringify({ ...recipe, steps: [{ id: 'x', kind: 'mend/reskin', set: { body: 'ball', egde: 1 } }] }),
    )
    expect(run('run', at('key.json')).stderr).toMatch(/unknown key "egde"/)
  })
})

describe('3MF that goes out', () => {
  // Rules of the 3MF Core Specification 1.3 and of ECMA-376 part 2 (Open Packaging Conventions), from the published texts.
  it('has the parts, relationships, namespace, units and index rules of the specification', () => {
    const zip = unzipSync(
      writeFile('3mf', [
        { name: 'one & <two>', mesh: box(10, 10, 10, 2) },
        { name: 'b', mesh: shifted(sphere(4, 2), 20, 0, 0) },
      ]),
    )
    const rels = strFromU8(zip['_rels/.rels'])
    expect(strFromU8(zip['[Content_Types].xml'])).toContain('application/vnd.ms-package.3dmanufacturing-3dmodel+xml')
    const target = /Target="\/?([^"]+)"/.exec(rels)![1]
    expect(rels).toContain('http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel')
    const objects = new Map<string, { vertices: number; triangles: number[][]; name?: string }>()
    const items: string[] = []
    let current: { vertices: number; triangles: number[][]; name?: string } | null = null
    let unit = '',
      namespace = ''
    const parser = new SaxesParser()
    parser.on('opentag', (tag) => {
      const a = tag.attributes as Record<string, string>
      if (tag.name === 'model') {
        unit = a.unit
        namespace = a.xmlns
      }
      if (tag.name === 'object') {
        current = { vertices: 0, triangles: [], name: a.name }
        objects.set(a.id, current)
      }
      if (tag.name === 'vertex') {
        current!.vertices++
        for (const k of ['x', 'y', 'z']) expect(Number.isFinite(Number(a[k]))).toBe(true)
      }
      if (tag.name === 'triangle') current!.triangles.push([Number(a.v1), Number(a.v2), Number(a.v3)])
      if (tag.name === 'item') items.push(a.objectid)
    })
    parser.write(strFromU8(zip[target])).close()
    expect(unit).toBe('millimeter')
    expect(namespace).toBe('http://schemas.microsoft.com/3dmanufacturing/core/2015/02')
    expect([...objects.values()].map((o) => o.name)).toEqual(['one & <two>', 'b'])
    expect(items).toEqual([...objects.keys()])
    for (const o of objects.values())
      for (const t of o.triangles) {
        expect(new Set(t).size).toBe(3)
        expect(Math.max(...t)).toBeLessThan(o.vertices)
      }
  })
})
