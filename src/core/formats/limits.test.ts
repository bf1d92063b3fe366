import { readDxf } from './reading-dxf/read-dxf'
import { describe, expect, it } from '@jest/globals'
import { stepOf } from '@/core/steps/registry'
import { evaluate, MemoryStore, StoreAway } from '@/core/recipe/evaluate'
import { hashBytes } from '@/core/base/hash'
import { quiet } from '@/core/base/work'
import { parseRecipe } from '@/core/recipe/recipe'
import { bodyName, namer } from '@/core/step/step'
import { boundsOf } from '@/core/kinds/registry'
import { meshBody } from '@/core/bodies/body'
import { formatOf } from './registry'
import { withoutBadNumbers } from './numbers'
import { readMeshFile } from './read'
import { growth } from '@/testing/processor-time'

const bytesOf = (text: string) => new TextEncoder().encode(text)
const bring = parseRecipe({
  format: 'glue-bench/recipe',
  version: 1,
  steps: [{ id: 's', kind: 'bring-in/file', set: { file: 'a.obj', name: 'a', parts: 'apart' } }],
})
async function brought(text: string) {
  const store = new MemoryStore()
  const bytes = bytesOf(text)
  const hash = await hashBytes(bytes)
  await store.keepBytes(hash, bytes)
  const told: (number | null)[] = []
  const env = {
    fileHash: () => Promise.resolve(hash),
    store,
    work: quiet,
    within: (ms: number | null) => told.push(ms),
  }
  return { result: await evaluate(bring, env), told, bytes, store, env }
}

describe('the format', () => {
  it.each([
    ['# a\r\n# b\r\nv 1 2 3\r\n', '', 'obj'],
    ['\n\n\n\ng a\nv 0 0 0', '', 'obj'],
    ['s 1\nf 1 2 3\nv 0 0 0', '', 'obj'],
    ['#x\nOFF\n', '', 'off'],
    ['CNOFF 1', '', 'off'],
    ['  ISO-10303-21;', '', 'step'],
    ['SOLID a', '', 'stl'],
    ['solidarity', 'a.txt', null],
    ['ply\n', '', 'ply'],
    ['plywood', 'x', null],
    ['anything', 'a.STP', 'step'],
    ['f 1 2 3', 'constructor.constructor', null],
    ['', '', null],
  ])('%j named %j is %s', (text, name, format) => expect(formatOf(bytesOf(text), name)?.name ?? null).toBe(format))
  it('takes the same time whatever the opening is', () => {
    for (const filler of ['\r\n', '\n', ' ', '# x\r\n', 'f ', '#\n#', '\t\n \r']) {
      const files = new Map([1 << 13, 1 << 19].map((n) => [n, bytesOf(filler.repeat(n))]))
      const look = (n: number) => {
        for (let i = 0; i < 40; i++) formatOf(files.get(n)!, 'x.obj')
      }
      // 64 times the file; were it read to its end, it would take 64 times as long.
      expect(growth(look, 1 << 13, 1 << 19)).toBeLessThan(8)
    }
  })
})

describe('numbers', () => {
  const square = {
    positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, NaN, 0, 0, 1, 1e30, 0),
    triangles: Uint32Array.of(0, 1, 2, 0, 1, 3, 1, 4, 2),
  }
  it('that are none go, with their triangles, and are counted', () => {
    const clean = withoutBadNumbers(square)
    expect([clean.corners, clean.triangles, clean.mesh.triangles.length, clean.mesh.positions.length]).toEqual([
      2, 2, 3, 9,
    ])
    expect(withoutBadNumbers(clean.mesh).mesh).toBe(clean.mesh)
    const model = readMeshFile(bytesOf('v 0 0 0\nv 1 0 0\nv 0 1 0\nv nan 0 0\nf 1 2 3\nf 1 2 4\n'), 'a.obj')
    expect(model.notes).toEqual([
      '1 corner whose coordinates are no sensible numbers was left out, and 1 triangle at it',
    ])
    expect(() => readMeshFile(bytesOf('v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), 'a.obj')).toThrow(
      /no sensible numbers, and nothing else/,
    )
  })
  it('of a body that has bad ones from before still give a box that can be shown', () => {
    expect(boundsOf(meshBody(square))).toEqual({ min: [0, 0, 0], max: [1, expect.closeTo(1e30, -24), 0] })
    expect(
      boundsOf(meshBody({ positions: new Float32Array(9).fill(NaN), triangles: Uint32Array.of(0, 1, 2) })),
    ).toEqual({ min: [0, 0, 0], max: [0, 0, 0] })
  })
  it('reach the maker as a warning of the step', async () => {
    const { result } = await brought('v 0 0 0\nv 1 0 0\nv 0 1 0\nv inf 0 0\nf 1 2 3\nf 1 2 4\n')
    expect(result.steps[0].warnings).toEqual([expect.stringMatching(/^1 corner whose coordinates/)])
  })
})

describe('names', () => {
  it('of bodies keep nothing that breaks objects or screens', () => {
    expect(['__proto__', 'a\u0000b', '  ', 'x'.repeat(200)].map(bodyName)).toEqual([
      'proto',
      'a b',
      'body',
      'x'.repeat(80),
    ])
  })
  it('that are alike are numbered, each in the same time', async () => {
    const name = namer(new Set(['a', 'a 3']))
    expect([name('a'), name('a'), name('b'), name('a')]).toEqual(['a 2', 'a 4', 'b', 'a 5'])
    const many = (n: number) => {
      const next = namer(new Set())
      for (let i = 0; i < n; i++) next('same')
    }
    // Eight times the names; were each looked for from the first, it would take 64 times as long.
    expect(growth(many, 10_000, 80_000)).toBeLessThan(40)
    // A group named like a part of the language comes in, and stays.
    const { result } = await brought('v 0 0 0\nv 1 0 0\nv 0 1 0\ng __proto__\nf 1 2 3\ng constructor\nf 1 2 3\n')
    expect([...result.bodies.keys()]).toEqual(['proto', 'constructor'])
    expect(stepOf('build/block')!.settings.safeParse({ name: '__proto__', size: [1, 1, 1] }).success).toBe(false)
  })
})

describe('reading a file', () => {
  it('may take a time that grows with its size, and no longer; after it anything may take as long as it likes', async () => {
    const { told } = await brought('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n')
    expect(told[0]).toBeGreaterThan(10_000)
    expect(told.at(-1)).toBeNull()
    // One that cannot be read ends its time as well: the steps after it have theirs.
    const damaged = await brought('v 0 0 0\nf 1 2 9\n')
    expect(damaged.result.ok).toBe(false)
    expect(damaged.told).toEqual([expect.any(Number), null])
    const patience = stepOf('bring-in/file')!.patience!
    expect(patience(100 << 20) - patience(0)).toBeCloseTo(100 * (patience(1 << 20) - patience(0)), 3)
  })
  it('from a store that is away is no fault of the step', async () => {
    const { env } = await brought('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n')
    const away = {
      result: () => Promise.reject(new StoreAway('gone')),
      keep: env.store.keep,
      bytes: env.store.bytes,
      keepBytes: env.store.keepBytes,
    }
    await expect(evaluate(bring, { ...env, store: away })).rejects.toBeInstanceOf(StoreAway)
  })
})

describe('a DXF file whose table has no end', () => {
  const file = (table: string) =>
    new TextEncoder().encode(
      `0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLTYPE\n${table}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n`,
    )
  it.each(['', '0\nTABLE\n2\nLAYER\n0\nENDTAB\n', '0\nENDTAX\n0\nENDTAB\n', '70\n1\n'])('is refused: %j', (table) => {
    expect(() => readDxf(file(table))).toThrow(/the table that begins at line 6 holds/)
  })
  it('and one with its end is read, and found empty', () => {
    expect(() => readDxf(file('0\nENDTAB\n'))).toThrow(/draws no line/)
  })
})
