/** What the bench shows of a job beside the job itself: stage, looks, view, sections, what is selected and asked. */
import { create } from 'zustand'
import type { Vec3 } from '@/core/math/vec'
import type { Stage } from '@/core/step/step'

export type Shading = 'plain' | 'edges' | 'see-through' | 'stripes'
export type ViewName = 'Front' | 'Back' | 'Left' | 'Right' | 'Top' | 'Under' | 'Corner' | 'Fit'
export type PickWay = 'grow' | 'face' | 'brush' | 'box' | 'lasso' | 'polygon' | 'circle' | 'piece'

export interface Look {
  hidden?: boolean
  ghost?: boolean
  colour?: string
  pieces?: boolean
}

export interface PickOptions {
  way: PickWay
  mode: 'add' | 'take'
  /** What Grow follows: one surface, or all edges that bend less than the angle. */
  follow: 'surface' | 'angle'
  angle: number
  radius: number
  through: boolean
}

/** What the view is asked to show. `from`: look at the place from the side that faces away from here. */
export interface ViewAsked {
  name: ViewName
  asked: number
  at?: Vec3
  reach?: number
  from?: Vec3
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
  /** What lies farther off than this is a fault, mm. */
  bound?: number
  /** The drawn body is the reference: signs turn round. */
  flip: boolean
}

/** What a mending step kept of a body: the contents before and after it. */
export interface KeptMap {
  name: string
  before: string
  after: string
  /** Shells were united, so that what lay inside went by right. */
  united: boolean
  /** Specks went too. */
  specks: boolean
}

/** A question in a dialog of the page: a name to type, yes and no, or one of some for each of a few. */
export type Question =
  | { ask: 'name'; title: string; label: string; value: string; done(value: string): void }
  | { ask: 'sure'; title: string; text: string; yes: string; done(): void }
  | {
      ask: 'choices'
      title: string
      text: string
      rows: readonly { readonly label: string; readonly options: readonly string[]; readonly value: string }[]
      yes: string
      done(values: readonly string[]): void
    }

interface BenchState {
  sections: SectionPlane[]
  /** The section plane that the next picked face turns. */
  sectionPick: number | null
  comparison: Comparison | null
  map: DeviationMap | null
  kept: KeptMap | null
  stage: Stage
  selected: string | null
  /** The step whose kin, what it uses and what uses it, is pointed out in the recipe. */
  kinOf: string | null
  /** The face or edge that is looked at, on the selected body. */
  part: { sort: 'face' | 'edge'; index: number } | null
  looks: Record<string, Look>
  shading: Shading
  /** What masses are told in. */
  material: string
  view: ViewAsked
  pick: PickOptions
  /** New steps go after this many steps; null is the end. */
  marker: number | null
  /** Changes wait, to be run together. */
  holding: boolean
  checkUpOf: string | null
  fault: number | null
  finding: boolean
  question: Question | null
  notice: { text: string; kind: 'bad' | 'good' } | null
  set(change: Partial<BenchState>): void
  setStage(stage: Stage): void
  look(name: string, change: Look): void
  lookAt(name: ViewName, at?: Vec3, reach?: number, from?: Vec3): void
}

/** How a job looks when it is opened. */
export const fresh = {
  sections: [],
  sectionPick: null,
  comparison: null,
  map: null,
  kept: null,
  selected: null,
  kinOf: null,
  part: null,
  looks: {},
  marker: null,
  holding: false,
  checkUpOf: null,
  fault: null,
  question: null,
  notice: null,
} satisfies Partial<BenchState>

export const useBench = create<BenchState>((set) => ({
  ...fresh,
  stage: 'bring-in',
  shading: 'plain',
  material: 'PETG',
  view: { name: 'Corner', asked: 0 },
  pick: { way: 'grow', mode: 'add', follow: 'surface', angle: 20, radius: 4, through: false },
  finding: false,
  set: (change) => set(change),
  setStage: (stage) => set({ stage }),
  look: (name, change) => set((s) => ({ looks: { ...s.looks, [name]: { ...s.looks[name], ...change } } })),
  lookAt: (name, at, reach, from) => set((s) => ({ view: { name, asked: s.view.asked + 1, at, reach, from } })),
}))

export const palette = ['#c9a488', '#7e9996', '#68798e', '#cbbda0', '#b06c54', '#9689a8', '#8fa08a', '#a98f9b']
export const colourOf = (
  looks: Record<string, Look>,
  body: { name: string; facts?: { colour?: string } },
  index: number,
): string => looks[body.name]?.colour ?? body.facts?.colour ?? palette[index % palette.length]

/** Whether a body stands back: as it was said, else where what was made of it lies over it. */
export const isFaint = (looks: Record<string, Look>, body: { name: string; back?: boolean }): boolean =>
  looks[body.name]?.ghost ?? !!body.back

export const tell = (text: string, kind: 'bad' | 'good' = 'bad'): void => useBench.setState({ notice: { text, kind } })
