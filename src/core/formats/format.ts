/** What a file format is: its names, how its files are known, and what reads and writes them. */
import type { ExactBody } from '@/core/bodies/body'
import type { Work } from '@/core/base/work'
import type { FlatPart } from './flat'
import type { FlatModel } from './flat-model'
import type { FileModel, FilePart } from './model'
import type { Opening } from './opening'

/** How sure the opening of a file makes one of its format: by bytes that no other has, by its length, by its heading, by its first words. */
export const certainty = { bytes: 4, length: 3, heading: 2, words: 1, none: 0 } as const
export type Certainty = (typeof certainty)[keyof typeof certainty]

interface Named {
  readonly name: string
  /** As people say it. */
  readonly title: string
  /** Endings of file names, without the dot; the first is the one that is proposed. */
  readonly endings: readonly [string, ...string[]]
  /** Whether its files say in which unit their lengths are. */
  readonly unit: 'stated' | 'not stated'
  /** What survives beside the shape, in words for the documentation. */
  readonly carries: string
  /** Looks at a fixed opening only, whatever the bytes are. */
  sniff(opening: Opening): Certainty
}

/** Triangles, in the file's own unit. */
export interface MeshFormat extends Named {
  readonly holds: 'meshes'
  /** Throws StepError `damaged-file` with the byte, line or entry at fault, and `too-large`. */
  read(bytes: Uint8Array): FileModel
  /** Parts in mm. */
  write(parts: readonly FilePart[], options: { readonly text: boolean }): Uint8Array
}

/** Outlines in a plane, in the file's own unit. */
export interface FlatFormat extends Named {
  readonly holds: 'outlines'
  /** Throws StepError `damaged-file` and `too-large`. */
  read(bytes: Uint8Array): FlatModel
  /** Parts in mm; `chord`: how far straight pieces may lie off a curve where the release knows no such curve. */
  write(parts: readonly FlatPart[], options: { readonly release: 'R12' | 'R2000'; readonly chord: number }): Uint8Array
}

/** Exact bodies, in mm whatever the file states. */
export interface ExactFormat extends Named {
  readonly holds: 'exact bodies'
  /** Throws StepError `damaged-file`, `too-large` and what the kernel says. */
  read(bytes: Uint8Array, name: string, work: Work): Promise<ExactBody[]>
  /** `warnings`: what came back a little different when the file was read again. Throws StepError `file-check`. */
  write(
    bodies: readonly { readonly name: string; readonly body: ExactBody }[],
    options: { readonly schema: 'AP214' | 'AP242' },
  ): Promise<{ readonly bytes: Uint8Array; readonly warnings: readonly string[] }>
}

export type FileFormat = MeshFormat | FlatFormat | ExactFormat
export const defineFormat = <F extends FileFormat>(format: F): F => format
