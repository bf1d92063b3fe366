/**
 * Lasting names of faces and edges. A face keeps its name through a feature by the kernel's own history; a new one is named by what made
 * it; an edge is named by the faces it borders. Names that would stand twice are told apart by place, so that the same recipe always
 * gives the same names (the naming problem: Kripac 1997, "A mechanism for persistently naming topological entities").
 */
import type { NCollection_List_TopoDS_Shape, TopoDS_Shape } from 'replicad-opencascadejs'
import type { Vec3 } from '@/core/math/vec'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'

/** A shape and the names of its faces in the explorer's order; an empty name is still to be given. */
export interface Named {
  readonly shape: TopoDS_Shape
  readonly names: readonly string[]
}

/** What carries history in the kernel: booleans, fillets, prisms, ... */
export interface Historical {
  Modified(s: TopoDS_Shape): NCollection_List_TopoDS_Shape
  Generated(s: TopoDS_Shape): NCollection_List_TopoDS_Shape
  IsDeleted(s: TopoDS_Shape): boolean
}

/** The shapes of a kernel list, which has no iterator of its own. */
export function shapesOf(oc: Kernel, list: NCollection_List_TopoDS_Shape): TopoDS_Shape[] {
  const out: TopoDS_Shape[] = []
  const rest = new oc.NCollection_List_TopoDS_Shape(list)
  for (; rest.Size() > 0; rest.RemoveFirst()) out.push(rest.First())
  return out
}

/**
 * Names for the faces of `result`, carried from the inputs by the builder's history. Faces made from edges or faces of the inputs are
 * named `made(name of the source)`. The first input's name wins where faces were merged.
 */
export function carryNames(
  oc: Kernel,
  op: Historical,
  inputs: readonly Named[],
  result: TopoDS_Shape,
  made?: (source: string) => string,
): string[] {
  const faces = new ShapeIndex(oc, result, 'TopAbs_FACE')
  const names = new Array<string>(faces.list.length).fill('')
  const give = (face: TopoDS_Shape, name: string) => {
    const i = faces.indexOf(face)
    if (i >= 0 && !names[i]) names[i] = name
  }
  for (const input of inputs) {
    const old = new ShapeIndex(oc, input.shape, 'TopAbs_FACE')
    old.list.forEach((face, i) => {
      const name = input.names[i] ?? ''
      if (!name) return
      const later = shapesOf(oc, op.Modified(face))
      for (const f of later) give(f, name)
      if (!later.length && !op.IsDeleted(face)) give(face, name)
    })
  }
  if (!made) return names
  for (const input of inputs) {
    const faceNames = new Map<number, string>()
    const old = new ShapeIndex(oc, input.shape, 'TopAbs_FACE')
    const edges = new ShapeIndex(oc, input.shape, 'TopAbs_EDGE')
    const around = edges.list.map((): string[] => [])
    old.list.forEach((face, i) => {
      faceNames.set(i, input.names[i] ?? '')
      for (const e of new ShapeIndex(oc, face, 'TopAbs_EDGE').list) around[edges.indexOf(e)]?.push(input.names[i] ?? '')
    })
    edges.list.forEach((edge, i) => {
      for (const f of shapesOf(oc, op.Generated(edge))) give(f, made(edgeName(around[i])))
    })
    old.list.forEach((face, i) => {
      for (const f of shapesOf(oc, op.Generated(face))) give(f, made(faceNames.get(i) ?? ''))
    })
  }
  return names
}

/** An edge's name from those of the faces it borders. */
export const edgeName = (faces: readonly string[]): string => [...new Set(faces)].sort().join(' | ')

/** A name's stem, without the number that tells equal ones apart. */
export const stemOf = (name: string): string => name.replace(/ #\d+$/, '')

/** Gives nameless parts a name by their shape, and tells equal names apart by their places, in the order of x, y and z. */
export function settleNames(parts: readonly { name: string; shape: string; at: Vec3 }[], prefix: string): string[] {
  const stems = parts.map((p) => stemOf(p.name) || `${prefix}${p.shape}`)
  const groups = new Map<string, number[]>()
  stems.forEach((s, i) => groups.set(s, [...(groups.get(s) ?? []), i]))
  const out = [...stems]
  const near = (v: number) => Math.round(v * 1e4)
  for (const [stem, list] of groups) {
    if (list.length < 2) continue
    const place = (i: number) => parts[i].at.map(near)
    list.sort((a, b) => {
      const p = place(a),
        q = place(b)
      return p[0] - q[0] || p[1] - q[1] || p[2] - q[2] || a - b
    })
    list.forEach((i, k) => (out[i] = `${stem} #${k + 1}`))
  }
  return out
}
