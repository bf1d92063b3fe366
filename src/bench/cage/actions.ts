/** What can be done to a cage beside pulling it: for the tray, with the numbers each wants. */
import {
  ArrowDownToLine,
  ArrowUpFromLine,
  Blend,
  BoxSelect,
  Combine,
  Crosshair,
  Diamond,
  Expand,
  FlipHorizontal2,
  Grid2x2,
  Grid2x2Plus,
  GripHorizontal,
  Layers,
  Link2,
  type LucideIcon,
  Merge,
  Minus,
  MoveDiagonal,
  MoveHorizontal,
  RotateCw,
  Ruler,
  Scissors,
  Trash2,
} from 'lucide-react'
import { targetOf } from '@/core/cage/edit/net'
import type { CageEdit, EditKind } from '@/core/cage/edit/schema'
import { addEdit, cageStore, middleOf, targetNow, type Numbers } from './state'

export interface Action {
  readonly kind: EditKind
  readonly group: (typeof actionGroups)[number]
  readonly icon: LucideIcon
  /** What it does, for the hover. */
  readonly tells: string
  /** Numbers it wants; left out: it is done at once. */
  readonly wants?: readonly (keyof Numbers | 'axis' | 'side' | 'always' | 'mergeAt' | 'between' | 'planeAt')[]
}

export const actionGroups = ['Grow', 'Join', 'Cut', 'Shape', 'Scan'] as const

export const actions: readonly Action[] = [
  {
    kind: 'extrude',
    group: 'Grow',
    icon: ArrowUpFromLine,
    tells: 'Lifts picked faces off on walls of new ones, or draws rim edges out',
    wants: ['distance'],
  },
  {
    kind: 'loop',
    group: 'Grow',
    icon: Grid2x2Plus,
    tells: 'Puts a loop of edges in across the ring of a picked edge, or between two picked edges',
    wants: ['share', 'between'],
  },
  { kind: 'subdivide', group: 'Grow', icon: Grid2x2, tells: 'Four faces for each; the surface stays where it is' },
  {
    kind: 'thicken',
    group: 'Grow',
    icon: Layers,
    tells: 'A closed cage with a thickness, inward',
    wants: ['distance'],
  },
  {
    kind: 'mirror',
    group: 'Grow',
    icon: FlipHorizontal2,
    tells: 'Keeps one side and welds its mirror image on',
    wants: ['axis', 'side', 'planeAt'],
  },
  {
    kind: 'bridge',
    group: 'Join',
    icon: Link2,
    tells: 'A band of faces between two rims, or two groups of faces',
    wants: ['rows'],
  },
  { kind: 'fill', group: 'Join', icon: BoxSelect, tells: 'Fills the hole at a picked rim edge' },
  {
    kind: 'merge',
    group: 'Join',
    icon: Merge,
    tells: 'Puts picked points together, or closes up a ring of edges',
    wants: ['mergeAt'],
  },
  {
    kind: 'weld',
    group: 'Join',
    icon: Combine,
    tells: 'Puts points at rims together that lie close',
    wants: ['within'],
  },
  { kind: 'split', group: 'Cut', icon: Scissors, tells: 'Parts the skin along picked edges, or round picked faces' },
  {
    kind: 'dissolve',
    group: 'Cut',
    icon: Minus,
    tells: 'Takes a loop of edges out; the faces beside it come together',
  },
  {
    kind: 'delete',
    group: 'Cut',
    icon: Trash2,
    tells: 'Takes picked faces away, and those about picked points and edges',
  },
  {
    kind: 'push',
    group: 'Shape',
    icon: Expand,
    tells: 'Moves picked points along their own normals',
    wants: ['distance'],
  },
  {
    kind: 'turn',
    group: 'Shape',
    icon: RotateCw,
    tells: 'Turns what is picked about its middle',
    wants: ['axis', 'angle'],
  },
  {
    kind: 'scale',
    group: 'Shape',
    icon: MoveDiagonal,
    tells: 'Makes what is picked larger or smaller about its middle',
    wants: ['factor'],
  },
  {
    kind: 'slide',
    group: 'Shape',
    icon: MoveHorizontal,
    tells: 'Moves a loop of edges over the skin, to one side or below 0 to the other',
    wants: ['share'],
  },
  { kind: 'flatten', group: 'Shape', icon: Ruler, tells: 'Puts picked points into the plane that fits them best' },
  {
    kind: 'straighten',
    group: 'Shape',
    icon: GripHorizontal,
    tells: 'Puts picked points on the line that fits them best',
  },
  {
    kind: 'sharpen',
    group: 'Shape',
    icon: Diamond,
    tells: 'How sharp picked edges or points stay; 0 is smooth',
    wants: ['always', 'sharpness'],
  },
  {
    kind: 'relax',
    group: 'Shape',
    icon: Blend,
    tells: 'Evens points out within the skin; all of them where none is picked',
    wants: ['times'],
  },
  {
    kind: 'snap',
    group: 'Scan',
    icon: Crosshair,
    tells: 'Brings the surface on to the scan at picked points, or at all',
  },
  {
    kind: 're-fit',
    group: 'Scan',
    icon: ArrowDownToLine,
    tells: 'Fits the whole cage to the scan; what is picked is held',
  },
]

const unit = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const

/** Least and most of each number, and whether it is a whole one. */
const bounds: Record<keyof Numbers, readonly [least: number, most: number, whole?: true]> = {
  distance: [-1e5, 1e5],
  share: [-99, 99],
  rows: [1, 200, true],
  sharpness: [0, 10],
  within: [1e-6, 1e4],
  times: [1, 200, true],
  angle: [-3600, 3600],
  factor: [-1e3, 1e3],
}

/** Numbers as an edit may have them: what lies beyond is taken at the bound. */
export const bounded = (n: Numbers): Numbers =>
  Object.fromEntries(
    Object.entries(bounds).map(([k, [least, most, whole]]) => {
      const v = Math.min(most, Math.max(least, n[k as keyof Numbers]))
      return [k, whole ? Math.round(v) : v]
    }),
  ) as unknown as Numbers

/** The edit of an action on what is picked, with its numbers. */
export function editOf(kind: EditKind): CageEdit {
  const s = cageStore.getState()
  const { distance, share, rows, sharpness, within, times, angle, factor } = bounded(s.numbers)
  const at = (s.cage && middleOf(s.cage, s.picked)) ?? [0, 0, 0]
  const target = targetNow()
  const plain = { ...(s.cage ? targetOf(s.cage, s.picked) : {}) }
  const reach = s.reach > 0 ? { reach: s.reach } : {}
  const made = ((): Record<string, unknown> => {
    switch (kind) {
      case 'extrude':
        return { ...target, distance }
      case 'push':
        return { ...target, ...reach, distance }
      case 'turn':
        return { ...target, ...reach, at, axis: unit[s.axis], angle }
      case 'scale':
        return { ...target, ...reach, at, by: [factor, factor, factor] }
      case 'loop':
        return { ...target, share: Math.max(0.01, Math.abs(share) / 100), ...(s.between ? { between: true } : {}) }
      case 'slide':
        return { ...target, share: share / 100 }
      case 'bridge':
        return { ...target, rows }
      case 'merge':
        return { ...target, at: s.mergeAt }
      case 'weld':
        return { ...plain, within }
      case 'relax':
        return { ...plain, times }
      case 'snap':
      case 're-fit':
        return plain
      case 'sharpen':
        return { ...target, sharpness: s.always ? 'always' : sharpness }
      case 'mirror':
        return { axis: s.axis, keep: s.keep, ...(s.planeAt ? { at: s.planeAt } : {}) }
      case 'thicken':
        return { distance }
      case 'subdivide':
        return {}
      default:
        return target
    }
  })()
  return { do: kind, ...made } as CageEdit
}

export const doAction = (kind: EditKind): void => addEdit(editOf(kind))
