/** Forty parts of known faces, three facetings, four noises each: how many are recognised face for face, and in what time. */
import { recognise } from '@/core/fit/recognise'
import { makePart, partNames } from '@/testing/clean-set/parts'
import { facetings, knownMesh, noises, noisy, scoreOf, sizeOf } from '@/testing/clean-set/truth'

export async function cleanSet() {
  const cases: Record<string, string> = {}
  const exact: Record<string, number> = {}
  let [right, all, seconds] = [0, 0, 0]
  for (const name of partNames) {
    const body = await makePart(name)
    for (const how of facetings) {
      const known = await knownMesh(body, how)
      for (const share of noises) {
        const mesh = noisy(known.mesh, share * sizeOf(known.mesh))
        const start = process.cpuUsage()
        const s = scoreOf({ ...known, mesh }, recognise(mesh))
        const used = process.cpuUsage(start)
        seconds += (used.user + used.system) / 1e6
        all++
        const sort = `${how}, noise ${share ? `1/${Math.round(1 / share)}` : 'none'}`
        exact[sort] ??= 0
        if (!s.missing && !s.invented) {
          right++
          exact[sort]++
        } else cases[`${name}, ${sort}`] = `${s.right} of ${s.faces} faces, ${s.invented} invented`
      }
    }
    process.stderr.write(`${name}: ${right} of ${all}\n`)
  }
  return { bar: 0.95, right, all, share: right / all, exact, secondsEach: seconds / all, notExact: cases }
}
