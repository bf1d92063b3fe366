import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { checkUp } from '@/core/mesh/check-up'
import { MeshSearch } from '@/core/mesh/closest'
import { vertex } from '@/core/mesh/tri-mesh'
import { gripShape } from '@/core/scan/shapes'
import { pair, single } from '../measure'

/** Check-up with self-crossings of 200 000 triangles, against building a hierarchy and one nearest-point pass over its vertices. */
export async function checkUpFigure() {
  const m = gripShape(500, 200)
  return {
    bar: 3,
    ...(await pair(
      () => checkUp(m),
      () => {
        const s = new MeshSearch(m)
        for (let v = 0; v < m.positions.length / 3; v++) s.nearest(vertex(m, v))
      },
    )),
  }
}

/** The search for self-crossings alone, 200 000 triangles: under 3 s. */
export async function selfCrossings() {
  const m = gripShape(500, 200)
  return { barMs: 3000, ms: Math.round(await single(() => findSelfCrossings(m))) }
}
