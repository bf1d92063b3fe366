/** Tables. Bytes live in 4 MB rows under their content hash; everything else points at hashes. */
import {
  bigint,
  boolean,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  serial,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core'
import type { CheckUp } from '@/core/mesh/check-up'
import type { KeptResult, StepReport } from '@/core/recipe/evaluate'
import type { Recipe } from '@/core/recipe/recipe'
import type { BodyFacts } from '@/core/kinds/kind'

const bytea = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' })
const now = (name: string) => timestamp(name, { withTimezone: true }).notNull().defaultNow()

export const jobs = pgTable('jobs', {
  id: uuid().primaryKey().defaultRandom(),
  title: text().notNull(),
  /** The revision the job stands at. */
  head: uuid(),
  picture: text(),
  demo: boolean().notNull().default(false),
  created: now('created'),
  updated: now('updated'),
})

export const revisions = pgTable(
  'revisions',
  {
    id: uuid().primaryKey().defaultRandom(),
    order: serial().notNull(),
    job: uuid()
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    /** The revision this one was made from: undo goes there, redo to the newest child. */
    parent: uuid(),
    label: text().notNull(),
    recipe: jsonb().$type<Recipe>().notNull(),
    created: now('created'),
  },
  (t) => [index('revisions_job').on(t.job, t.order), index('revisions_parent').on(t.parent)],
)

export const jobFiles = pgTable(
  'job_files',
  {
    job: uuid()
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    hash: text().notNull(),
    size: bigint({ mode: 'number' }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.job, t.name] })],
)

export const blobs = pgTable('blobs', {
  hash: text().primaryKey(),
  size: bigint({ mode: 'number' }).notNull(),
  /** Facts of a body that every screen shows; null for files. */
  summary: jsonb().$type<BodyFacts>(),
  /** What is younger than a while is never pruned: whoever refers to it may be about to say so. */
  created: now('created'),
})

export const blobChunks = pgTable(
  'blob_chunks',
  {
    hash: text()
      .notNull()
      .references(() => blobs.hash, { onDelete: 'cascade' }),
    part: integer().notNull(),
    data: bytea().notNull(),
  },
  (t) => [primaryKey({ columns: [t.hash, t.part] })],
)

export const results = pgTable('results', {
  key: text().primaryKey(),
  kind: text().notNull(),
  result: jsonb().$type<KeptResult>().notNull(),
  created: now('created'),
})

export const checkUps = pgTable('check_ups', {
  hash: text().primaryKey(),
  checkUp: jsonb('check_up').$type<CheckUp>().notNull(),
})

export const runStates = ['waiting', 'running', 'done', 'failed', 'stopped'] as const
export type RunState = (typeof runStates)[number]

export const runs = pgTable(
  'runs',
  {
    id: uuid().primaryKey().defaultRandom(),
    job: uuid()
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    revision: uuid(),
    /** A ghost: a recipe that was never applied. */
    ghost: boolean().notNull().default(false),
    recipe: jsonb().$type<Recipe>().notNull(),
    state: text().$type<RunState>().notNull().default('waiting'),
    progress: real().notNull().default(0),
    phase: text().notNull().default(''),
    steps: jsonb().$type<StepReport[]>().notNull().default([]),
    created: now('created'),
    ended: timestamp({ withTimezone: true }),
  },
  (t) => [index('runs_job').on(t.job, t.created), index('runs_revision').on(t.revision)],
)

/** Worker pools of compute processes that are alive, and the place each process has: one started in its place frees what it held. */
export const workers = pgTable('workers', { id: text().primaryKey(), beat: now('beat'), slot: text() })
