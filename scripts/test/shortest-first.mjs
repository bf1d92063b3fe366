/** Runs short test files first: a change that one of them notices needs no long one. */
import sequencer from '@jest/test-sequencer'
import { statSync } from 'node:fs'

const Sequencer = sequencer.default ?? sequencer

export default class ShortestFirst extends Sequencer {
  sort(tests) {
    const cost = (t) => t.duration ?? statSync(t.path).size
    return [...tests].sort((a, b) => cost(a) - cost(b))
  }
}
