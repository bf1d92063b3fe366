/** What Trim and Split share: which sides stay, under which names, and what is said of it. */
import { meshBody } from '@/core/bodies/body'
import type { Body } from '@/core/bodies/body'
import { freeName, type StepResult } from '@/core/step/step'
import { many } from '@/core/base/say'
import type { Halves } from '@/core/split/trim'
import { buildTopology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'

export function halved(
  name: string,
  other: string | undefined,
  names: ReadonlySet<string>,
  halves: Halves,
  keep: 'a' | 'b' | 'both',
): StepResult {
  const bodies: Record<string, Body> = {}
  const side = (mesh: Halves['a']): Body => meshBody(mesh)
  if (keep === 'both') {
    let second = other ?? `${name} B`
    if (!other) for (let i = 2; names.has(second); i++) second = `${name} B ${i}`
    bodies[name] = side(halves.a)
    bodies[freeName(names, second)] = side(halves.b)
  } else bodies[name] = side(keep === 'a' ? halves.a : halves.b)
  const facts = (m: Halves['a']) => ({
    triangles: triangleCount(m),
    openEdges: buildTopology(m).openEdges,
    volume: Number(meshVolume(m).toFixed(6)),
  })
  return {
    bodies,
    warnings: halves.warnings,
    facts: { ...halves.facts, sideA: facts(halves.a), sideB: facts(halves.b) },
    said:
      keep === 'both'
        ? `A ${many(triangleCount(halves.a))}, B ${many(triangleCount(halves.b))} triangles`
        : `kept side ${keep.toUpperCase()}: ${many(triangleCount(keep === 'a' ? halves.a : halves.b))} triangles`,
  }
}
