import { readMeshFile } from '@/core/formats/read'
import { writeStlBinary } from '@/core/formats/stl'
import { gripShape } from '@/core/scan/shapes'
import { pair } from '../measure'

/** Read and weld a binary STL of a million triangles, against one plain pass over the same bytes into typed arrays. */
export async function readWeld() {
  const bytes = writeStlBinary(gripShape(1000, 500))
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  const count = view.getUint32(80, true)
  return {
    bar: 4,
    triangles: count,
    ...(await pair(
      () => readMeshFile(bytes, 'x.stl'),
      () => {
        const soup = new Float32Array(9 * count)
        for (let t = 0; t < count; t++)
          for (let i = 0; i < 9; i++) soup[9 * t + i] = view.getFloat32(84 + 50 * t + 12 + 4 * i, true)
        return soup
      },
    )),
  }
}
