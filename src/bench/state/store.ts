/** What the bench knows that is not part of the job: stage, tool in hand, looks, picks under way. */
import { create } from 'zustand'
import type { Vec3 } from '@/core/math/vec'
import type { Stage } from '@/core/step/step'

export type Shading = 'plain' | 'edges' | 'see-through' | 'stripes'
export type ViewName = 'Front' | 'Back' | 'Left' | 'Right' | 'Top' | 'Under' | 'Corner' | 'Fit'
export type PickWay = 'grow' | 'brush' | 'box' | 'lasso' | 'polygon' | 'circle' | 'piece'

export interface Look {
  hidden?: boolean
  ghost?: boolean
  colour?: string
  pieces?: boolean
}

export interface ToolInHand {
  kind: string
  values: Record<string, unknown>
  /** The step under edit, or null for a new one. */
  editing: string | null
  /** The field that takes the next picks. */
  slot: string | null
}

export interface PickOptions {
  way: PickWay
  mode: 'add' | 'take'
  angle: number
  radius: number
  through: boolean
}

/** A plane that cuts the view: what its normal points to is taken away. */
export interface SectionPlane {
  id: number
  axis: 'x' | 'y' | 'z' | 'face'
  normal: Vec3
  offset: number
  flip: boolean
}
/** Two bodies looked at against each other. */
export interface Comparison {
  a: string
  b: string
  how: 'side by side' | 'overlaid' | 'wiped'
  at: number
}
/** The coloured deviation of one body from another, by content. */
export interface DeviationMap {
  name: string
  hash: string
  against: string
  againstName: string
  tolerance: number
  reach: number
  /** The drawn body is the reference: signs turn round. */ flip: boolean
}

interface BenchState {
  sections: SectionPlane[]
  /** The section plane that the next picked face turns. */
  sectionPick: number | null
  comparison: Comparison | null
  map: DeviationMap | null
  stage: Stage
  tool: ToolInHand | null
  selected: string | null
  looks: Record<string, Look>
  shading: Shading
  /** `from`: look at the place from the side that faces away from here. */
  view: { name: ViewName; asked: number; at?: Vec3; reach?: number; from?: Vec3 }
  pick: PickOptions
  pickedCount: number
  cursor: Vec3 | null
  hover: string | null
  /** New steps go after this many steps; null is the end. */
  marker: number | null
  checkUpOf: string | null
  fault: number | null
  finding: boolean
  notice: { text: string; kind: 'bad' | 'good' } | null
  set(change: Partial<BenchState>): void
  setStage(stage: Stage): void
  takeTool(tool: ToolInHand | null): void
  setValues(values: Record<string, unknown>): void
  look(name: string, change: Look): void
  lookAt(name: ViewName, at?: Vec3, reach?: number, from?: Vec3): void
}

export const useBench = create<BenchState>((set) => ({
  sections: [],
  sectionPick: null,
  comparison: null,
  map: null,
  stage: 'bring-in',
  tool: null,
  selected: null,
  looks: {},
  shading: 'plain',
  view: { name: 'Corner', asked: 0 },
  pick: { way: 'grow', mode: 'add', angle: 20, radius: 4, through: false },
  pickedCount: 0,
  cursor: null,
  hover: null,
  marker: null,
  checkUpOf: null,
  fault: null,
  finding: false,
  notice: null,
  set: (change) => set(change),
  setStage: (stage) => set({ stage }),
  takeTool: (tool) => set({ tool, pickedCount: 0, hover: null, map: null }),
  setValues: (values) => set((s) => (s.tool ? { tool: { ...s.tool, values: { ...s.tool.values, ...values } } } : {})),
  look: (name, change) => set((s) => ({ looks: { ...s.looks, [name]: { ...s.looks[name], ...change } } })),
  lookAt: (name, at, reach, from) => set((s) => ({ view: { name, asked: s.view.asked + 1, at, reach, from } })),
}))

export const palette = ['#c9a488', '#7e9996', '#68798e', '#cbbda0', '#b06c54', '#9689a8', '#8fa08a', '#a98f9b']
export const colourOf = (looks: Record<string, Look>, name: string, index: number): string =>
  looks[name]?.colour ?? palette[index % palette.length]
