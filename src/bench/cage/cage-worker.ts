/** Edits cages beside the screen, on the same core as the step: what was done before the last edit is kept, and so are sums for the surface. */
import { expose, transfer } from 'comlink'
import { StepError, reportError, type ErrorReport } from '@/core/base/step-error'
import { isCage, type Body } from '@/core/bodies/body'
import { applyEdit } from '@/core/cage/edit/apply'
import type { CageEdit, EditKind } from '@/core/cage/edit/schema'
import { FineSurface } from '@/core/cage/fine-surface'
import { sideBySide } from '@/core/cage/side-by-side'
import { requireCapability } from '@/core/kinds/registry'
import { Ground } from '@/core/net/relax-quads'
import { fineSkin } from '@/core/steps/convert/fine-skin'
import type { Cage } from '@/core/subdivision/subdivide'
import { fetchBody } from '@/bench/workers/fetch-body'
import { hereMark } from '@/bench/workers/sturdy-worker'

/** What is drawn and picked of the cage as it is now. */
export interface CageView {
  /** Counts up where faces, creases or corners have changed; while it stays, `quads` and `index` are null. */
  readonly shape: number
  readonly positions: Float64Array
  readonly quads: Uint32Array | null
  readonly creases: ReadonlyMap<number, number> | null
  readonly corners: ReadonlyMap<number, number> | null
  readonly skin: Float32Array
  readonly normals: Float32Array
  /** Triangles of the smooth surface; those of a face follow each other. */
  readonly index: Uint32Array | null
  /** How far each place of the skin lies outside the scan, mm; null: none is worn. */
  readonly off: Float32Array | null
  /** So many edits are in it, and why the next was not taken. */
  readonly edits: number
  readonly error: ErrorReport | null
}

interface Held {
  readonly body: string
  readonly base: Cage
  /** The cage after each edit, by its text. */
  done: { text: string; cage: Cage }[]
}

/** Edits whose result hangs on the scan. */
const toScan = new Set<EditKind>(['snap', 're-fit'])

let held: Held | null = null
let fine: { surface: FineSurface; shape: number } | null = null
let shape = 0
/** The shape that the page has. */
let sent = -1
let ground: { hash: string; scan: Ground } | null = null
let worn: { at: Float32Array; off: Float32Array; hash: string } | null = null

/** @param hashes the cage in hand, and those that are joined to it */
async function open(hashes: readonly string[]): Promise<Held> {
  const key = hashes.join()
  if (held?.body === key) return held
  const bodies: Body[] = await Promise.all(hashes.map(fetchBody))
  const cages = bodies.map((body) => {
    if (!isCage(body)) throw new StepError('wrong-kind', 'That body is no cage.', { tryThis: 'Pick a cage.' })
    return body.cage
  })
  return (held = { body: key, base: cages.length > 1 ? sideBySide(cages) : cages[0], done: [] })
}

async function scanOf(hash: string | null): Promise<Ground | null> {
  if (!hash) return null
  if (ground?.hash !== hash) {
    const body = await fetchBody(hash)
    const surface = (name: string, chord: number) => requireCapability(name, body, 'surface').surface!(body, chord)
    // As fine as the step takes it.
    ground = { hash, scan: new Ground(await fineSkin({ body: () => body, surface }, 'scan')) }
    worn = null
  }
  return ground.scan
}

/** Distances to the scan, outside above 0; those of places that have not moved since the last are known. */
function offOf(at: Float32Array, scan: Ground, hash: string): Float32Array {
  const off = new Float32Array(at.length / 3)
  const same = worn?.hash === hash && worn.at.length === at.length ? worn : null
  for (let v = 0, o = 0; v < off.length; v++, o += 3) {
    if (same && same.at[o] === at[o] && same.at[o + 1] === at[o + 1] && same.at[o + 2] === at[o + 2])
      off[v] = same.off[v]
    else off[v] = scan.signed([at[o], at[o + 1], at[o + 2]])
  }
  worn = { at, off, hash }
  return off
}

const api = {
  /** The cage after edits, or why it cannot be shown, and how far it lies off the scan where that is worn. The page has drawn `has`. */
  async show(
    hashes: readonly string[],
    edits: readonly CageEdit[],
    scanHash: string | null,
    wear: boolean,
    has: number,
  ): Promise<CageView | ErrorReport> {
    try {
      const h = await open(hashes)
      const scan = await scanOf(scanHash)
      const texts = edits.map((e) => JSON.stringify(e) + (toScan.has(e.do) ? (scanHash ?? '') : ''))
      let n = 0
      while (n < texts.length && h.done[n]?.text === texts[n]) n++
      h.done = h.done.slice(0, n)
      let error: ErrorReport | null = null
      for (; n < texts.length; n++) {
        const before = n ? h.done[n - 1].cage : h.base
        try {
          h.done.push({ text: texts[n], cage: applyEdit(before, edits[n], scan) })
        } catch (e) {
          error = reportError(e)
          break
        }
      }
      const cage = n ? h.done[n - 1].cage : h.base
      if (!fine?.surface.serves(cage)) fine = { surface: new FineSurface(cage), shape: ++shape }
      if (has !== sent) sent = -1
      const { skin, normals } = fine.surface.at(cage.positions)
      const fresh = sent !== fine.shape
      sent = fine.shape
      const off = wear && scan && scanHash ? offOf(skin.slice(), scan, scanHash).slice() : null
      const view: CageView = {
        shape: fine.shape,
        positions: cage.positions.slice(),
        quads: fresh ? cage.quads.slice() : null,
        creases: fresh ? cage.creases : null,
        corners: fresh ? cage.corners : null,
        skin,
        normals,
        index: fresh ? fine.surface.index.slice() : null,
        off,
        edits: n,
        error,
      }
      const buffers = [view.positions, view.quads, skin, normals, view.index, off].flatMap((a) => (a ? [a.buffer] : []))
      return transfer(view, buffers as ArrayBuffer[])
    } catch (error) {
      return reportError(error)
    }
  },
}

export type CageApi = typeof api
expose(api)
postMessage(hereMark)
