/** Takes out of what was read the corners whose coordinates are no numbers, so that nothing after it meets them. */
import { many, plural } from '@/core/base/say'
import { compact, type TriMesh } from '@/core/mesh/tri-mesh'
import { largestCoordinate } from './limits'
import { damaged, type FileModel } from './model'

/** A mesh without the triangles that have a corner at no number or beyond all sizes, and how many corners and triangles went. */
export function withoutBadNumbers(mesh: TriMesh): { mesh: TriMesh; corners: number; triangles: number } {
  const { positions: p, triangles: t } = mesh
  let corners = 0
  let bad: Uint8Array | null = null
  for (let i = 0; i < p.length; i++)
    if (!(Math.abs(p[i]) <= largestCoordinate)) {
      bad ??= new Uint8Array(p.length / 3)
      const v = Math.floor(i / 3)
      corners += 1 - bad[v]
      bad[v] = 1
    }
  if (!bad) return { mesh, corners: 0, triangles: 0 }
  const kept = new Uint32Array(t.length)
  let n = 0
  for (let i = 0; i < t.length; i += 3) {
    if (bad[t[i]] || bad[t[i + 1]] || bad[t[i + 2]]) continue
    kept[n++] = t[i]
    kept[n++] = t[i + 1]
    kept[n++] = t[i + 2]
  }
  return { mesh: compact({ positions: p, triangles: kept.slice(0, n) }), corners, triangles: (t.length - n) / 3 }
}

/** The model with numbers only; a note says what went. Throws `damaged-file` when nothing is left. */
export function cleanNumbers(model: FileModel): FileModel {
  let corners = 0,
    triangles = 0
  const parts = model.parts.flatMap((part) => {
    const clean = withoutBadNumbers(part.mesh)
    corners += clean.corners
    triangles += clean.triangles
    return clean.triangles && !clean.mesh.triangles.length ? [] : [{ ...part, mesh: clean.mesh }]
  })
  if (!corners) return model
  const said = `${many(corners)} ${corners === 1 ? 'corner whose coordinates are' : 'corners whose coordinates are'} no sensible numbers`
  if (!parts.length) throw damaged(`it has ${said}, and nothing else`, 'points')
  return {
    ...model,
    parts,
    notes: [
      ...model.notes,
      `${said} ${corners === 1 ? 'was' : 'were'} left out, and ${plural(triangles, 'triangle')} at ${corners === 1 ? 'it' : 'them'}`,
    ],
  }
}
